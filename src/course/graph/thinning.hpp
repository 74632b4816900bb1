#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include "course/graph/line_mask.hpp"

namespace vast_turn {

/// The skeleton of a mask: lines of one cell.
struct Skeleton {
    std::vector<std::uint8_t> on;   ///< for each cell of the mask: 1 when it is of the skeleton
    std::vector<std::size_t> cells; ///< those, in the order of rows
    std::vector<std::uint8_t> deep; ///< depths() of what was thinned
};

/// For each cell of a mask that is more than half line 3 times its distance from the rim in cells, at most 255.
std::vector<std::uint8_t> depths(const LineMask& mask);

/// Thins what has a depth, and takes off cells that only thicken a step (Z. Guo, R. W. Hall: Parallel thinning with
/// two-subiteration algorithms, Comm. ACM 32, 1989). The rules of Zhang and Suen (1984) take slanting lines of two
/// cells off whole, and every line at 45 degrees comes to be one.
Skeleton thinned(const LineMask& mask, std::vector<std::uint8_t> deep);

/// The eight neighbours of a cell, clockwise from above.
struct Around {
    std::ptrdiff_t step[8];
    explicit Around(int columns)
        : step{-columns, -columns + 1, 1, columns + 1, columns, columns - 1, -1, -columns - 1} {}
};

} // namespace vast_turn
