#pragma once

/// Light that falls unevenly on a photographed or scanned floor.

#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

/// How bright the darkest part of the floor is against the brightest, 0..1; 1 under even light. Parts are blocks of
/// `block_mm`; what lies on the floor (lines, plates) does not count as long as it covers less than half of a block and
/// of its neighbours.
double light_evenness(const Surface& surface, double block_mm = 48.0);

/// Makes the floor as bright everywhere as where it is brightest: each cell is divided by the brightness of
/// the floor around it, channel by channel. That brightness is the upper quartile of each block of `block_mm` (the
/// lower one where lines are lighter than the floor), the median over it and its eight neighbours, and interpolated
/// between the middles of blocks. Light that changes within less than a block (the edge of a shadow) is evened only
/// in part.
void even_out_light(Surface& surface, double block_mm = 48.0);

} // namespace vast_turn
