#include "vast_turn/course/floor/even_light.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace vast_turn {

namespace {

constexpr double dimmest = 4.0; // of 255: below this a block is as good as black, and nothing can be divided by it

double brightness(std::uint32_t cell) {
    return 0.299 * static_cast<double>((cell >> 16U) & 255U) + 0.587 * static_cast<double>((cell >> 8U) & 255U) +
           0.114 * static_cast<double>(cell & 255U);
}

/// The floor's brightness at the middles of blocks.
struct LightField {
    int columns = 0;
    int rows = 0;
    double cells_a_block = 1.0;
    std::vector<double> light;

    double& of(int column, int row) {
        return light[static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) +
                     static_cast<std::size_t>(column)];
    }
    double of(int column, int row) const {
        column = std::clamp(column, 0, columns - 1);
        row = std::clamp(row, 0, rows - 1);
        return light[static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) +
                     static_cast<std::size_t>(column)];
    }
};

/// Where a cell lies between the middles of two blocks.
struct Between {
    int first;
    double part;
};

Between between(int cell, double cells_a_block, int blocks) {
    const double at =
        std::clamp((cell + 0.5) / cells_a_block - 0.5, 0.0, std::max(0.0, static_cast<double>(blocks) - 1.0));
    const int first = std::min(static_cast<int>(at), std::max(0, blocks - 2));
    return {first, at - first};
}

std::vector<double> block_values(const Surface& surface, const LightField& field, int column, int row) {
    const auto edge = [&](int block, int limit) {
        return std::min(limit, static_cast<int>(std::lround(block * field.cells_a_block)));
    };
    std::vector<double> values;
    for (int y = edge(row, surface.rows); y < edge(row + 1, surface.rows); ++y) {
        const std::size_t first = static_cast<std::size_t>(y) * static_cast<std::size_t>(surface.columns);
        for (int x = edge(column, surface.columns); x < edge(column + 1, surface.columns); ++x) {
            values.push_back(brightness(surface.cells[first + static_cast<std::size_t>(x)]));
        }
    }
    return values;
}

double at_share(std::vector<double>& values, double share) {
    const auto nth = values.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size() - 1));
    std::nth_element(values.begin(), nth, values.end());
    return *nth;
}

LightField blocks_of(const Surface& surface, double block_mm) {
    LightField field;
    field.cells_a_block = std::max(1.0, block_mm / surface.cell_mm);
    field.columns = std::max(1, static_cast<int>(std::lround(surface.columns / field.cells_a_block)));
    field.rows = std::max(1, static_cast<int>(std::lround(surface.rows / field.cells_a_block)));
    return field;
}

/// Whether what lies on the floor is rather darker than it: the mean of a block is then below its median. The blocks
/// are so large that lines cover less than half of them.
bool lines_are_dark(const Surface& surface, double block_mm) {
    const LightField field = blocks_of(surface, block_mm);
    double sum = 0.0;
    for (int row = 0; row < field.rows; ++row) {
        for (int column = 0; column < field.columns; ++column) {
            std::vector<double> values = block_values(surface, field, column, row);
            if (!values.empty()) {
                const double mean =
                    std::accumulate(values.begin(), values.end(), 0.0) / static_cast<double>(values.size());
                sum += mean - at_share(values, 0.5);
            }
        }
    }
    return sum <= 0.0;
}

LightField find_light(const Surface& surface, double block_mm) {
    const double share = lines_are_dark(surface, 4.0 * block_mm) ? 0.75 : 0.25;
    LightField raw = blocks_of(surface, block_mm);
    for (int row = 0; row < raw.rows; ++row) {
        for (int column = 0; column < raw.columns; ++column) {
            std::vector<double> values = block_values(surface, raw, column, row);
            raw.light.push_back(values.empty() ? dimmest : std::max(dimmest, at_share(values, share)));
        }
    }
    LightField smooth = raw;
    for (int row = 0; row < raw.rows; ++row) {
        for (int column = 0; column < raw.columns; ++column) {
            std::vector<double> around;
            for (int y = std::max(0, row - 1); y <= std::min(raw.rows - 1, row + 1); ++y) {
                for (int x = std::max(0, column - 1); x <= std::min(raw.columns - 1, column + 1); ++x) {
                    around.push_back(raw.of(x, y));
                }
            }
            smooth.of(column, row) = at_share(around, 0.5);
        }
    }
    return smooth;
}

} // namespace

double light_evenness(const Surface& surface, double block_mm) {
    if (surface.cells.empty()) {
        return 1.0;
    }
    const LightField field = find_light(surface, block_mm);
    const auto [least, most] = std::minmax_element(field.light.begin(), field.light.end());
    return *least / *most;
}

void even_out_light(Surface& surface, double block_mm) {
    if (surface.cells.empty()) {
        return;
    }
    const LightField field = find_light(surface, block_mm);
    const double brightest = *std::max_element(field.light.begin(), field.light.end());
    for (int y = 0; y < surface.rows; ++y) {
        const Between v = between(y, field.cells_a_block, field.rows);
        std::uint32_t* row =
            surface.cells.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(surface.columns);
        for (int x = 0; x < surface.columns; ++x) {
            const Between h = between(x, field.cells_a_block, field.columns);
            const auto across = [&](int block_row) {
                return (1.0 - h.part) * field.of(h.first, block_row) + h.part * field.of(h.first + 1, block_row);
            };
            const double factor = brightest / ((1.0 - v.part) * across(v.first) + v.part * across(v.first + 1));
            const std::uint32_t cell = row[x];
            const auto channel = [&](unsigned shift) {
                const double value = factor * static_cast<double>((cell >> shift) & 255U);
                return static_cast<std::uint32_t>(std::lround(std::min(255.0, value))) << shift;
            };
            row[x] = channel(16U) | channel(8U) | channel(0U);
        }
    }
}

} // namespace vast_turn
