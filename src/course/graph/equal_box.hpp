#pragma once

/// Boxes of equal moments.

#include <algorithm>
#include <cmath>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// Sums over cells, by their columns and rows.
struct Moments {
    double n = 0.0;
    double x = 0.0;
    double y = 0.0;
    double xx = 0.0;
    double xy = 0.0;
    double yy = 0.0;

    void add(double px, double py) {
        n += 1.0;
        x += px;
        y += py;
        xx += px * px;
        xy += px * py;
        yy += py * py;
    }
};

/// A box on the board.
struct EqualBox {
    Vec2 at; ///< its centre
    double length_mm = 0.0;
    double across_mm = 0.0;
    double heading_deg = 0.0; ///< of its length
};

/// The box with the same area's centre and second moments as some cells, at least one.
inline EqualBox equal_box(const Moments& m, double cell_mm) {
    const double cx = m.x / m.n;
    const double cy = m.y / m.n;
    const double vxx = m.xx / m.n - cx * cx + 1.0 / 12.0;
    const double vxy = m.xy / m.n - cx * cy;
    const double vyy = m.yy / m.n - cy * cy + 1.0 / 12.0;
    const double middle = 0.5 * (vxx + vyy);
    const double off = std::hypot(0.5 * (vxx - vyy), vxy);
    EqualBox box;
    box.at = {(cx + 0.5) * cell_mm, (cy + 0.5) * cell_mm};
    box.length_mm = std::sqrt(12.0 * (middle + off)) * cell_mm;
    box.across_mm = std::sqrt(12.0 * std::max(0.0, middle - off)) * cell_mm;
    box.heading_deg = off > 0.02 * middle ? to_degrees(-0.5 * std::atan2(2.0 * vxy, vxx - vyy)) : 0.0;
    return box;
}

} // namespace vast_turn
