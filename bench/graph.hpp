#pragma once

/// Boards whose route graph is found.

#include "vast_turn/course/board/course.hpp"

namespace bench {

/// A grid of winding tape, a line every `apart_mm` both ways, on a board of this size with cells of 1 mm.
vast_turn::Course grid_board(double width_mm, double height_mm, double apart_mm);

} // namespace bench
