#pragma once

/// Circles that touch a straight line.

#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// A circle that touches the x axis.
struct CircleTouch {
    double at_mm = 0.0;     ///< where, on the axis
    double radius_mm = 0.0; ///< positive to one side, negative to the other
    double off_mm = 1e9;    ///< root of the mean square of the points off it
};

/// Of the circles that touch the x axis within 420 mm of the first of some points the one nearest to them.
CircleTouch touching_circle(const std::vector<Vec2>& points);

} // namespace vast_turn
