#pragma once

/// Sharp corners in the middle of a line.

#include "course/graph/line_net.hpp"

namespace vast_turn {

/// Parts every line where it turns sharply and its profile is not its own: there thinning cuts the corner off, and a
/// knot of two is placed where both sides meet, as at a junction. A narrow bend keeps its width and stays whole.
void split_at_corners(LineNet& net);

} // namespace vast_turn
