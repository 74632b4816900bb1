#pragma once

#include "paint/drawing.hpp"
#include "vast_turn/paint/surface.hpp"

namespace vast_turn {

/// As paint_surface() of one course and cell size, over a drawing; null for none.
void paint_surface(Course& course, double cell_mm, const Drawing* drawing);

} // namespace vast_turn
