#pragma once

/// Forks at which a line leaves a straight one to its side and bends soon.

#include <optional>
#include <vector>

#include "course/graph/junction_fit.hpp"
#include "course/graph/line_mask.hpp"

namespace vast_turn {

/// A line that comes to a fork.
struct ForkArm {
    FittedArm fit;
    std::vector<Vec2> outwards; ///< where it is by itself
    double width_mm = 0.0;
};

/// Where one of three arms leaves the line that the two others make: by how it stands right at the edge of that line,
/// since what it does farther out, where the other arms leave it alone, need not be how it began. Chords along the edge
/// are cut by its rims; their middles lie on its middle as long as it is straight there. Nothing when no two arms are
/// one straight line, or the third does not bend, leaves it too slant, or has no clear rims there; nor where that is
/// farther than half a width from `near`, where the arms meet by how they are farther out.
std::optional<Vec2> side_arm_point(const LineMask& mask, const std::vector<ForkArm>& arms, Vec2 near);

} // namespace vast_turn
