#pragma once

/// Which of the colours of a drawing is that of its lines.

#include <vector>

#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

/// How many square millimetres of strokes as wide as tape, 6 to 60 mm, a surface shows in a colour within an area. A
/// shape's width is twice its area by the length of its rim, which is exact for a long strip; strokes are six times as
/// long as they are wide, or at least four alike (dashes).
double strokes_mm2(const Surface& surface, const Area& within, Rgb colour);

} // namespace vast_turn
