#pragma once

/// Which parts of a photographed floor are the floor itself.

#include <cstddef>
#include <cstdint>
#include <vector>

#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

/// A surface in squares of some millimetres, and which of them show bare floor.
struct FloorCells {
    int columns = 0;
    int rows = 0;
    int side = 1;                    ///< of a square, in cells of the surface
    std::vector<float> brightness;   ///< the median in each square, 0..255
    std::vector<std::uint8_t> floor; ///< 1 where it is floor

    std::size_t index(int column, int row) const {
        return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) + static_cast<std::size_t>(column);
    }
};

/// Parts a surface where its brightness or hue changes within a few millimetres, as it does at the rim of tape and of
/// furniture and not where light falls off. The largest part is floor; so is each that is as bright as the floor across
/// a strip no wider than tape, and each of the floor's hue on which strips are as dark (or light) against it as those
/// on the floor are: floor in the shade. Where less than a fifth of the board would be floor, all of it counts.
FloorCells find_floor_cells(const Surface& surface);

/// Red, green and blue weighed as the eye does, 0..255.
inline double brightness_of(std::uint32_t cell) {
    return 0.299 * static_cast<double>((cell >> 16U) & 255U) + 0.587 * static_cast<double>((cell >> 8U) & 255U) +
           0.114 * static_cast<double>(cell & 255U);
}

} // namespace vast_turn
