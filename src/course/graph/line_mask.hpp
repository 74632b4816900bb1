#pragma once

/// Which parts of a surface are line.

#include <cstddef>
#include <cstdint>
#include <vector>

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Where something of another colour lies over a line that goes on on both sides.
struct Cover {
    Vec2 from; ///< the middle of the line where it goes under
    Vec2 to;   ///< and where it comes out
};

/// From there on a cell counts as line.
inline constexpr std::uint8_t half_covered = 128;

/// A grid of square cells with a margin of one empty cell around.
struct LineMask {
    int columns = 0; ///< margins included
    int rows = 0;
    double cell_mm = 1.0;
    std::vector<std::uint8_t> line; ///< 0..255: how much of the cell is line; 255 under a cover too
    std::vector<Cover> covers;
    std::vector<bool> off; ///< cells of dark areas that were taken off; empty as long as there were none

    std::size_t index(int column, int row) const {
        return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) + static_cast<std::size_t>(column);
    }

    bool was_taken_off(Vec2 p) const;

    /// Part 0..1 that is line at a point, interpolated between the middles of cells; 0 beyond.
    double at(Vec2 p) const;

    Vec2 middle(int column, int row) const { return {(column - 0.5) * cell_mm, (row - 0.5) * cell_mm}; }
};

/// Cells of about 1 mm.
LineMask line_mask(const Course& course);

} // namespace vast_turn
