#pragma once

/// Curves as polylines. Each returns the points behind the start, the end included, and lies within
/// `tolerance` of the curve.

#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

std::vector<Vec2> flatten_cubic(Vec2 from, Vec2 c1, Vec2 c2, Vec2 to, double tolerance);

/// An elliptical arc as SVG writes it.
struct Arc {
    Vec2 from;
    double rx = 0.0;
    double ry = 0.0;
    double turn_deg = 0.0; // of the ellipse's axes
    bool large = false;
    bool sweep = false;
    Vec2 to;
};
std::vector<Vec2> flatten_arc(const Arc& arc, double tolerance);

} // namespace vast_turn
