#pragma once

/// Where line begins at the rim of a shape of another colour.

#include <cstdint>
#include <span>
#include <utility>
#include <vector>

#include "course/floor/cell_runs.hpp"
#include "course/graph/line_mask.hpp"
#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// How much of a cell may be line where it is floor.
inline constexpr std::uint8_t surely_floor = 24;

/// A piece of the rim of a cover at which line begins.
struct PlateContact {
    std::vector<Vec2> cells;

    Vec2 middle() const;
    /// From the least to the most along a direction.
    std::pair<double, double> extent(Vec2 along) const;
};

/// The neighbours of a run, each with the direction in which it lies.
template <class Look> void all_round(const CellRun& run, const Look& look) {
    look(run.from - 1, run.row, -1, 0);
    look(run.behind, run.row, 1, 0);
    for (int column = run.from; column < run.behind; ++column) {
        look(column, run.row - 1, 0, -1);
        look(column, run.row + 1, 0, 1);
    }
}

/// Line cells at most `far` cells off, beyond two only where no floor lies between. Those that hang together as
/// one.
std::vector<PlateContact> contacts_of(const LineMask& mask, std::span<const CellRun> shape, int far);

} // namespace vast_turn
