#pragma once

/// Which dark shapes of a surface are line, and which are lettering, furniture or dirt.

#include <cstdint>
#include <vector>

#include "course/graph/line_mask.hpp"
#include "course/graph/point_box.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

/// Takes from the mask what is no line, and tells what that was. `deep` has for each cell of the mask three times its
/// distance from the rim in cells (Skeleton::deep); what is taken away is 0 there.
///
/// A shape's width is four times the mean distance of its cells from its rim, which is exact for a long strip; its
/// length is its area by that. Shapes of a width that the course gives (Course::line_widths_mm, its tapes) are line;
/// when it gives none, those of the width that most of the area of long shapes has, and of another one that has at
/// least a quarter of that.
std::vector<NotLine> take_out_what_is_no_line(LineMask& mask, std::vector<std::uint8_t>& deep, const Course& course);

/// What is told of something that lies in a box.
NotLine not_line(NotLineKind kind, const PointBox& box);

/// Makes one of two of a kind: a letter joins its word.
void join_into(NotLine& whole, const NotLine& part);

/// Notes how near the shapes that are no line come to one (NotLine::from_line_mm).
void measure_from_lines(RouteGraph& graph);

} // namespace vast_turn
