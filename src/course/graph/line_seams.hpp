#pragma once

/// Seams across lines.

#include "course/graph/line_mask.hpp"

namespace vast_turn {

/// Where strips of tape are butted, or a drawing program rounds, up to 1.2 mm of floor show, which is no gap to a
/// robot: made line. A slit that leads from the floor into a line and ends there is none: so two lines part at a narrow
/// angle.
void close_seams(LineMask& mask);

} // namespace vast_turn
