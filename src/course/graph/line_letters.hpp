#pragma once

/// Letters whose strokes are as wide as the lines.

#include "course/graph/line_net.hpp"
#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Takes letters and digits from the lines of a drawing and tells them as lettering; before gaps are bridged.
///
/// By their width they are lines; but they are small against it, bent or forked in that small room, they stand in rows
/// or alone beside lines that are much longer, and their ends face no other ends, as those of a line with gaps do: what
/// would be bridged mostly is kept. What the course takes in stays.
void take_out_letters(LineNet& net, const LineMask& mask, const Course& course, const RouteGraphOptions& options);

} // namespace vast_turn
