#pragma once

/// Markers that a run saw where there is no such plate.

#include <string>
#include <utility>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// Sentences about them (sim/marker_misreads.hpp), up to and with a look of the run, each with its first look: the last
/// three.
std::vector<std::pair<std::size_t, std::string>> edge_misreads(const Scene& scene, const Plan& plan, const Run& run,
                                                               std::size_t until);

} // namespace vast_turn
