#pragma once

/// Forks at which arcs leave a straight line and end before they are apart: seen are only their rims.

#include <cstddef>
#include <optional>
#include <vector>

#include "course/graph/line_mask.hpp"
#include "course/graph/side_arm.hpp"

namespace vast_turn {

/// Arcs that leave a line where it comes to a fork.
struct FilletFork {
    struct Arc {
        Vec2 middle; ///< of its circle
        double radius_mm = 0.0;
        std::size_t arm = 0; ///< which of the arms it leads to
    };
    Vec2 at; ///< where they begin, on the line
    std::vector<Arc> arcs;
};

/// Where one arc leaves the straight line that two of three arms make, or two leave that of one to both its sides, by
/// the rim between them: wide lines that part on a small circle are one dark area until the arc is nearly over, and
/// beyond it the arm leads straight on, as if it had always been straight. On the side to which it leaves the rim lies
/// on a circle about the same middle, smaller by half a width, that touches the line's own rim where the arc begins;
/// where two straight lines meet it has a corner there. Nothing when there is no such circle, or the arm does not lead
/// on as it does.
///
/// Each arm also farther out, since the line that is left is wider on one side long before both are apart.
std::optional<FilletFork> fillet_fork(const LineMask& mask, const std::vector<ForkArm>& arms,
                                      const std::vector<std::vector<Vec2>>& long_arms);

} // namespace vast_turn
