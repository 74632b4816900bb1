#include "course/graph/line_colour.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <vector>

#include "course/floor/cell_runs.hpp"

namespace vast_turn {

namespace {

struct Stroke {
    double area_mm2 = 0.0;
    double rim_mm = 0.0;

    double width_mm() const { return 2.0 * area_mm2 / rim_mm; }
    double length_mm() const { return 0.5 * rim_mm; }
};

/// Shapes of the cells for which `is_on(column, row)` holds, on a grid with an empty margin.
template <class IsOn> std::vector<Stroke> strokes_of(int columns, int rows, double cell_mm, const IsOn& is_on) {
    const CellRuns found = runs_of(columns, rows, [&](std::size_t at) {
        const auto index = static_cast<std::uint32_t>(at); // dividing in 32 bits takes a third
        const auto wide = static_cast<std::uint32_t>(columns);
        return is_on(static_cast<int>(index % wide), static_cast<int>(index / wide));
    });
    std::vector<Stroke> strokes(found.shapes);
    for (const CellRun& run : found.runs) {
        Stroke& stroke = strokes[run.shape];
        stroke.area_mm2 += (run.behind - run.from) * cell_mm * cell_mm;
        int sides = 2;
        for (int column = run.from; column < run.behind; ++column) {
            sides += (is_on(column, run.row - 1) ? 0 : 1) + (is_on(column, run.row + 1) ? 0 : 1);
        }
        // Of a rim at any angle the sides of its cells are 4 / pi times as long.
        stroke.rim_mm += sides * cell_mm * 0.785;
    }
    return strokes;
}

} // namespace

double strokes_mm2(const Surface& surface, const Area& within, Rgb colour) {
    const int step = std::max(1, static_cast<int>(std::lround(2.0 / surface.cell_mm)));
    const double cell_mm = step * surface.cell_mm;
    const int columns = surface.columns / step + 2;
    const int rows = surface.rows / step + 2;
    const auto index = [columns](int column, int row) {
        return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) + static_cast<std::size_t>(column);
    };
    std::vector<std::uint8_t> near_it(index(0, rows), 0);
    for (int row = 1; row + 1 < rows; ++row) {
        for (int column = 1; column + 1 < columns; ++column) {
            if (within.holds({(column - 0.5) * cell_mm, (row - 0.5) * cell_mm})) {
                const Rgb c = surface.at((column - 1) * step + step / 2, (row - 1) * step + step / 2);
                constexpr int near = 40;
                near_it[index(column, row)] = std::abs(c.r - colour.r) < near && std::abs(c.g - colour.g) < near &&
                                              std::abs(c.b - colour.b) < near;
            }
        }
    }
    // Most of nine: the grain of a photograph would lengthen every rim.
    std::vector<std::uint8_t> on(near_it.size(), 0);
    for (int row = 1; row + 1 < rows; ++row) {
        for (int column = 1; column + 1 < columns; ++column) {
            int count = 0;
            for (int y = row - 1; y <= row + 1; ++y) {
                const std::uint8_t* three = &near_it[index(column - 1, y)];
                count += three[0] + three[1] + three[2];
            }
            on[index(column, row)] = count >= 5 ? 1 : 0;
        }
    }
    const auto is_on = [&](int column, int row) { return on[index(column, row)] != 0; };
    const std::vector<Stroke> strokes = strokes_of(columns, rows, cell_mm, is_on);
    double sum = 0.0;
    for (const Stroke& stroke : strokes) {
        constexpr double narrowest = 5.0; // the grid is coarse
        constexpr double widest = 60.0;
        const double width = stroke.width_mm();
        if (width < narrowest || width > widest) {
            continue;
        }
        constexpr double is_long = 6.0;
        constexpr double alike = 0.1;
        const bool dash = stroke.length_mm() > 1.2 * width && [&] {
            const auto same = std::count_if(strokes.begin(), strokes.end(), [&](const Stroke& other) {
                return std::abs(other.area_mm2 - stroke.area_mm2) < alike * stroke.area_mm2 &&
                       std::abs(other.rim_mm - stroke.rim_mm) < alike * stroke.rim_mm;
            });
            return same >= 4;
        }();
        sum += stroke.length_mm() > is_long * width || dash ? stroke.area_mm2 : 0.0;
    }
    return sum;
}

} // namespace vast_turn
