#pragma once

/// Pieces of line that are not much longer than wide, as of a dashed line: thinning leaves too little of them, so they
/// are told by their moments.

#include "course/graph/line_net.hpp"

namespace vast_turn {

inline constexpr double dirt_mm = 3.0; ///< what is narrower is no line

/// A line that nothing hangs on: where it is short it becomes the whole piece, with the knots at its ends moved there,
/// or a spot of the net as well where that is too short for a dash.
void take_whole_piece(LineNet& net, const LineMask& mask, Line& line);

/// Pieces of which thinning left one cell, or spurs alone. Each gets two knots of its own, or is a spot of the net
/// where it is too short for a dash.
void take_lone_pieces(LineNet& net, const LineMask& mask, const SkeletonGraph& graph);

} // namespace vast_turn
