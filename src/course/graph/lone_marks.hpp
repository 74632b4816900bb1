#pragma once

/// Short pieces by themselves, as are painted beside lines to tell a robot something: marks, no ways.

#include "course/graph/line_mask.hpp"
#include "course/graph/line_net.hpp"
#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Takes out what is hardly longer than wide, joined to nothing and no island in the gap of a line, where the drawing
/// has lines that are much longer. It stays where a start or a plate lies on it, at the board's edge, and where the
/// course says that it is line. To be asked when gaps are bridged and plates noted.
void take_out_lone_marks(LineNet& net, const LineMask& mask, const Course& course);

} // namespace vast_turn
