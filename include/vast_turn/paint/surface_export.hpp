#pragma once

/// The surface of a course as a drawing, for other programs and to be read back.

#include <string>

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// As SVG in millimetres. A surface that shows nothing but the course's own tape and markers is written as strokes
/// and rectangles, any other one as a picture of its cells inside the SVG. Read back at the same cell_mm it is the
/// same to the last bit (tests/paint/surface_export_test.cpp).
/// Throws InputError when the surface is empty or too large to be painted.
std::string surface_svg(const Course& course);

/// As PNG, a pixel a cell: its mm_per_px is the surface's cell_mm, and read back at it, it is the same to the last bit.
/// Throws as above.
std::string surface_png(const Course& course);

} // namespace vast_turn
