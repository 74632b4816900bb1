#pragma once

/// What of a run is worth jumping to.

#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

enum class MomentKind : std::uint8_t { start, place, junction, said, lost, unanswered, touched, end };

/// "start", "place" ...
const char* name_of(MomentKind kind);

struct Moment {
    double t_s = 0.0;
    MomentKind kind = MomentKind::start;
    std::string text; ///< "the fork", "fork 2: left", "note: on the pad", "for 0.32 s"
};

/// In the order of their times: start and end, places come to, choices at junctions where the route can be told, what
/// the plan said, spells in which the line was nowhere under the array (see LineLoss), spells in which no rule held,
/// touches.
std::vector<Moment> moments_of(const Scene& scene, const Plan& plan, const Run& run);

} // namespace vast_turn
