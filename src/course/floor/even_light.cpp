#include "vast_turn/course/floor/even_light.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <utility>
#include <vector>

#include "course/floor/floor_cells.hpp"

namespace vast_turn {

namespace {

constexpr double dimmest = 4.0; // of 255: below this a block is as good as black, and nothing can be divided by it

/// Where a cell lies between the middles of two blocks.
struct Between {
    int first;
    double part;
};

/// The floor's brightness at the middles of blocks.
struct LightField {
    int columns = 0;
    int rows = 0;
    double cells_a_block = 1.0;
    std::vector<double> light;

    std::size_t index(int column, int row) const {
        return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) + static_cast<std::size_t>(column);
    }
    double& of(int column, int row) { return light[index(column, row)]; }
    double of(int column, int row) const {
        return light[index(std::clamp(column, 0, columns - 1), std::clamp(row, 0, rows - 1))];
    }

    double at(const Between& across, const Between& down) const {
        const auto along = [&](int row) {
            return (1.0 - across.part) * of(across.first, row) + across.part * of(across.first + 1, row);
        };
        return (1.0 - down.part) * along(down.first) + down.part * along(down.first + 1);
    }
};

Between between(int cell, double cells_a_block, int blocks) {
    const double at = (cell + 0.5) / cells_a_block - 0.5; // beyond the outermost middles the light goes on as it did
    const int first = std::clamp(static_cast<int>(std::floor(at)), 0, std::max(0, blocks - 2));
    return {first, at - first};
}

double at_share(std::vector<double>& values, double share) {
    const auto nth = values.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size() - 1));
    std::nth_element(values.begin(), nth, values.end());
    return *nth;
}

constexpr int squares_a_block = 2; // a side

/// Of the floor in a block; nothing where a thing covers half of it.
std::optional<double> light_in_block(const FloorCells& cells, int column, int row) {
    std::vector<double> values;
    int all = 0;
    for (int y = row * squares_a_block; y < std::min(cells.rows, (row + 1) * squares_a_block); ++y) {
        for (int x = column * squares_a_block; x < std::min(cells.columns, (column + 1) * squares_a_block); ++x) {
            ++all;
            if (cells.floor[cells.index(x, y)] != 0) {
                values.push_back(cells.brightness[cells.index(x, y)]);
            }
        }
    }
    return 2 * static_cast<int>(values.size()) <= all ? std::nullopt
                                                      : std::optional<double>(std::max(dimmest, at_share(values, 0.5)));
}

/// What is known of a field, half as fine each time until all of it is known; what is not is filled from the next.
void fill(LightField& field, const std::vector<std::uint8_t>& known) {
    if (std::find(known.begin(), known.end(), 1) == known.end()) {
        std::fill(field.light.begin(), field.light.end(), dimmest);
        return;
    }
    if (std::find(known.begin(), known.end(), 0) == known.end()) {
        return;
    }
    LightField half;
    half.columns = (field.columns + 1) / 2;
    half.rows = (field.rows + 1) / 2;
    const std::size_t size = static_cast<std::size_t>(half.columns) * static_cast<std::size_t>(half.rows);
    half.light.assign(size, 0.0);
    std::vector<double> counted(size, 0.0);
    for (int row = 0; row < field.rows; ++row) {
        for (int column = 0; column < field.columns; ++column) {
            if (known[field.index(column, row)] != 0) {
                half.light[half.index(column / 2, row / 2)] += field.of(column, row);
                counted[half.index(column / 2, row / 2)] += 1.0;
            }
        }
    }
    std::vector<std::uint8_t> half_known(size, 0);
    for (std::size_t i = 0; i < size; ++i) {
        if (counted[i] > 0.0) {
            half.light[i] /= counted[i];
            half_known[i] = 1;
        }
    }
    fill(half, half_known);
    for (int row = 0; row < field.rows; ++row) {
        const Between v = between(row, 2.0, half.rows);
        for (int column = 0; column < field.columns; ++column) {
            if (known[field.index(column, row)] == 0) {
                field.of(column, row) = half.at(between(column, 2.0, half.columns), v);
            }
        }
    }
}

/// Under a thing the light goes over from what it is at the one side to what it is at the other: each block that is not
/// known is the mean of those beside it.
void relax(LightField& field, const std::vector<std::uint8_t>& known) {
    constexpr int rounds = 60; // from what fill() gives, which is near
    for (int round = 0; round < rounds; ++round) {
        for (int row = 0; row < field.rows; ++row) {
            for (int column = 0; column < field.columns; ++column) {
                if (known[field.index(column, row)] == 0) {
                    const LightField& it = field; // what lies beyond the board is as at its rim
                    const double left = it.of(column - 1, row);
                    const double right = it.of(column + 1, row);
                    field.of(column, row) = 0.25 * (left + right + it.of(column, row - 1) + it.of(column, row + 1));
                }
            }
        }
    }
}

/// The light, and what the floor shows of it.
struct FoundLight {
    LightField field;
    double darkest = dimmest;
    double brightest = dimmest;
};

FoundLight find_light(const Surface& surface) {
    const FloorCells cells = find_floor_cells(surface);
    LightField raw;
    raw.cells_a_block = squares_a_block * cells.side;
    raw.columns = (cells.columns + squares_a_block - 1) / squares_a_block;
    raw.rows = (cells.rows + squares_a_block - 1) / squares_a_block;
    std::vector<std::uint8_t> known;
    for (int row = 0; row < raw.rows; ++row) {
        for (int column = 0; column < raw.columns; ++column) {
            const std::optional<double> light = light_in_block(cells, column, row);
            known.push_back(light ? 1 : 0);
            raw.light.push_back(light.value_or(dimmest));
        }
    }
    fill(raw, known);
    relax(raw, known);
    std::vector<double> seen;
    for (std::size_t i = 0; i < known.size(); ++i) {
        if (known[i] != 0) {
            seen.push_back(raw.light[i]);
        }
    }
    if (seen.empty()) {
        return {std::move(raw), dimmest, dimmest};
    }
    constexpr double chance = 0.01; // a block at the rim of a thing may be anything
    const double darkest = at_share(seen, chance);
    return {std::move(raw), darkest, at_share(seen, 1.0 - chance)};
}

} // namespace

double light_evenness(const Surface& surface) {
    if (surface.cells.empty()) {
        return 1.0;
    }
    const FoundLight found = find_light(surface);
    return found.darkest / found.brightest;
}

void even_out_light(Surface& surface) {
    if (surface.cells.empty()) {
        return;
    }
    const FoundLight found = find_light(surface);
    const LightField& field = found.field;
    for (int y = 0; y < surface.rows; ++y) {
        const Between v = between(y, field.cells_a_block, field.rows);
        std::uint32_t* row =
            surface.cells.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(surface.columns);
        for (int x = 0; x < surface.columns; ++x) {
            const Between h = between(x, field.cells_a_block, field.columns);
            const double factor = found.brightest / std::max(dimmest, field.at(h, v));
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
