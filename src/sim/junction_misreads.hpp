#pragma once

/// Junctions that a run took where there is none, or took twice.

#include <cstddef>
#include <cstdint>
#include <vector>

#include "plan/explain/junction_rules.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// A look in which a rule chose that is meant for junctions, while the array saw line.
struct JunctionTake {
    std::size_t look = 0;
    RuleId rule;
};

struct JunctionMisread {
    enum class Kind : std::uint8_t {
        line,  ///< on a plain line
        plate, ///< over a plate
        again, ///< at a junction that was counted just before
    };
    JunctionTake take;
    Kind kind = Kind::line;
    NodeId junction;       ///< that was counted before, or the nearest by air
    JunctionTake first;    ///< of one that was taken again: the take before
    std::size_t plate = 0; ///< its number in the course
    Vec2 at;               ///< the middle of the array
};

/// A junction that came under the array and was not counted.
struct UncountedPass {
    NodeId junction;
    std::size_t look = 0;  ///< the one in which most sensors saw line
    std::uint8_t bits = 0; ///< what they saw
};

/// What came of all takes of a run.
struct JunctionTakes {
    std::vector<JunctionMisread> misreads;
    std::vector<bool> at_junctions;       ///< by rule: it acted at a junction
    std::vector<UncountedPass> uncounted; ///< of a plan with a rule that counts
};

/// Reads the takes of a run, by look, up to and without a look; `kinds` as junction_rules() tells them. A rule that
/// goes on choosing takes once; after 500 takes no more is read. Nothing on a course without junctions.
JunctionTakes read_takes(const Scene& scene, const Run& run, const std::vector<JunctionRule>& kinds,
                         const std::vector<JunctionTake>& takes, std::size_t until);

} // namespace vast_turn
