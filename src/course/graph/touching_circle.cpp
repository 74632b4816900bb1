#include "course/graph/touching_circle.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

namespace {

/// Of the circles that touch the x axis at a point the one nearest to some points.
CircleTouch circle_at(const std::vector<Vec2>& points, double at_mm) {
    double up = 0.0, down = 0.0;
    for (const Vec2 p : points) {
        const double x = p.x - at_mm;
        up += p.y * (x * x + p.y * p.y);
        down += 2.0 * p.y * p.y;
    }
    CircleTouch touch{at_mm, up / std::max(1e-9, down), 0.0};
    for (const Vec2 p : points) {
        const double off = length(p - Vec2{at_mm, touch.radius_mm}) - std::abs(touch.radius_mm);
        touch.off_mm += off * off / static_cast<double>(points.size());
    }
    touch.off_mm = std::sqrt(touch.off_mm);
    return touch;
}

} // namespace

CircleTouch touching_circle(const std::vector<Vec2>& points) {
    CircleTouch best;
    constexpr int tries = 105; // to each side, 4 mm apart
    for (int k = -tries; k <= tries; ++k) {
        const CircleTouch one = circle_at(points, points.front().x + 4.0 * k);
        best = one.off_mm < best.off_mm ? one : best;
    }
    double step = 2.0;
    for (int halved = 0; halved < 6; ++halved, step *= 0.5) {
        for (const double side : {-step, step}) {
            const CircleTouch one = circle_at(points, best.at_mm + side);
            best = one.off_mm < best.off_mm ? one : best;
        }
    }
    return best;
}

} // namespace vast_turn
