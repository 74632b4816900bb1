#pragma once

#include "paint/drawing.hpp"
#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// As paint_surface of course_file.hpp, over a drawing; null for none.
void paint_surface(Course& course, double cell_mm, const Drawing* drawing);

} // namespace vast_turn
