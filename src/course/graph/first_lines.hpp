#pragma once

/// The lines that a skeleton shows.

#include "course/graph/line_mask.hpp"
#include "course/graph/line_net.hpp"
#include "course/graph/skeleton_graph.hpp"
#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Adds them to a net without lines, each with its measured shape. What is dirt is left out, and on a drawing what is
/// thin (take_out_thin_lines()); a line on which that hung goes on through the place. Throws InputError of noise.
void take_first_lines(LineNet& net, const Course& course, const LineMask& mask, SkeletonGraph graph);

} // namespace vast_turn
