#pragma once

/// A course as a course file, as load_course() reads it (docs/files.md).

#include <string>

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// The text of a course file for a course that was made in code, or changed: its board, tapes (to a ten-thousandth of a
/// millimetre), palette, markers, places, things, walls, starts and variants, and the drawing under them by its name
/// alone. What was found in a drawing is not in it, it will be found again; trips are no part of a course. `cell_mm` is
/// that of its surface.
std::string course_toml(const Course& course);

} // namespace vast_turn
