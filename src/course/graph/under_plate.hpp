#pragma once

/// Lines that meet, cross or go on under a plate.

#include <cstddef>
#include <span>
#include <vector>

#include "course/floor/cell_runs.hpp"
#include "course/graph/line_mask.hpp"

namespace vast_turn {

/// What lies hidden under a plate.
struct UnderPlate {
    std::vector<std::size_t> cells; ///< of the mask that are line
    std::size_t lines = 0;          ///< how many go on or end under it
    std::vector<Cover> covers;      ///< each from where a line goes under to where it meets another or comes out
};

/// What lines that come to a filled shape of another colour make of it: those that face each other go on straight, what
/// is left runs into them, or all meet at one point. Empty where lines from around do not tell what lies there.
UnderPlate under_plate(const LineMask& mask, std::span<const CellRun> shape);

} // namespace vast_turn
