#pragma once

/// Light that falls unevenly on a photographed or scanned floor.

#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

/// How bright the darkest part of the floor is against the brightest, 0..1; 1 under even light. What lies on the floor
/// (lines, plates, furniture) does not count: see even_out_light().
double light_evenness(const Surface& surface);

/// Makes the floor as bright everywhere as where it is brightest: each cell is divided by the brightness of the floor
/// around it, channel by channel. What is floor is found first: the largest part within which brightness and hue change
/// only as gently as light makes them, what is as bright as it across strips no wider than tape, and what lies in the
/// shade: of the same hue, with strips on it that stand out as much. The light is the median of the floor in blocks of
/// some 12 mm, interpolated between their middles; under what is no floor it goes over from the one side to the other,
/// so that a bench stays as dark as it is. Where less than a fifth of the board would be floor, all of it counts. The
/// rim of a shade that is narrower than a block leaves a seam.
void even_out_light(Surface& surface);

} // namespace vast_turn
