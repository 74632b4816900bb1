#pragma once

/// How lines come to their junctions and ends.

#include <vector>

#include "course/graph/line_net.hpp"

namespace vast_turn {

/// The points of a line from a tip inwards, where its profile is its own: near a junction it is that of all that meet
/// there. As many as tell how it comes to the junction, or those of a piece of this length.
std::vector<Vec2> sound_part(const LineNet& net, const Tip& tip);
std::vector<Vec2> sound_part(const LineNet& net, const Tip& tip, double reach_mm);

/// Gives every line the path from its one knot to the other: by the bend that it has where it is sound to a junction,
/// in the middle of the line to an end, which is where the line ends.
void lead_lines_to_knots(LineNet& net, const LineMask& mask);

} // namespace vast_turn
