#pragma once

#include <string>

#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

/// A surface as a PNG, a pixel a cell: what surface_png() writes, packed for speed, since a page is drawn anew while
/// somebody waits. With a palette where 256 colours are enough.
std::string floor_picture(const Surface& surface);

} // namespace vast_turn
