#pragma once

/// What a drawing shows to be in the way.

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Appends what of the surface has a colour of Course::in_the_way: a patch that is a box, at any angle, as a thing that
/// is there for ever; any other shape as walls round it and round its holes, true to one cell. Patches of less than
/// 60 mm2 are dirt. Where the colour says how it looks, the surface is painted over. Throws InputError when there are
/// more than 20,000 walls: then the colour is that of something else.
void find_obstacles(Course& course);

} // namespace vast_turn
