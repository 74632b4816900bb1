#pragma once

/// Painting what lies on a board.

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Paints floor, tape and markers into `course.surface`, cells of `cell_mm` (above 0), with edges smoothed by
/// the part of each cell that is covered: a course that was made in memory can then be driven over. Throws InputError
/// when that would be more than 110 million cells.
void paint_surface(Course& course, double cell_mm);

} // namespace vast_turn
