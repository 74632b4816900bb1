#include <algorithm>
#include <cmath>

#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

std::array<double, 3> light_under(const Surface& surface, Vec2 p, double spot_mm) {
    const double radius = 0.5 * spot_mm / surface.cell_mm;
    const Vec2 middle{p.x / surface.cell_mm - 0.5, p.y / surface.cell_mm - 0.5};
    std::array<double, 3> sum{};
    double cells = 0.0;
    constexpr double half_diagonal = 0.7072; // between four cells the nearest is so far: no spot is too small to see
    const double reach = std::max(radius, half_diagonal);
    const auto cell = [](double at) { return static_cast<int>(std::floor(at)); };
    for (int j = cell(middle.y - reach); j <= cell(middle.y + reach) + 1; ++j) {
        for (int i = cell(middle.x - reach); i <= cell(middle.x + reach) + 1; ++i) {
            const bool on_board = i >= 0 && j >= 0 && i < surface.columns && j < surface.rows;
            if (length(Vec2{i - middle.x, j - middle.y}) <= reach) {
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
