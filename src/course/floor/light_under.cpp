#include <algorithm>

#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

std::array<double, 3> light_under(const Surface& surface, Vec2 p, double spot_mm) {
    const double radius = 0.5 * spot_mm / surface.cell_mm;
    const Vec2 middle{p.x / surface.cell_mm - 0.5, p.y / surface.cell_mm - 0.5};
    std::array<double, 3> sum{};
    double cells = 0.0;
    for (int j = static_cast<int>(middle.y - radius); j <= static_cast<int>(middle.y + radius) + 1; ++j) {
        for (int i = static_cast<int>(middle.x - radius); i <= static_cast<int>(middle.x + radius) + 1; ++i) {
            const bool on_board = i >= 0 && j >= 0 && i < surface.columns && j < surface.rows;
            if (length(Vec2{i - middle.x, j - middle.y}) <= std::max(radius, 0.5)) {
                const Rgb c = on_board ? surface.at(i, j) : surface.beyond;
                sum[0] += c.r;
                sum[1] += c.g;
                sum[2] += c.b;
                cells += 1.0;
            }
        }
    }
    for (double& channel : sum) {
        channel /= 255.0 * std::max(1.0, cells);
    }
    return sum;
}

} // namespace vast_turn
