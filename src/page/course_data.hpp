#pragma once

#include "formats/write/json_text.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// All of a course that a page draws: its floor as a PNG, places, starts, things, walls, lamps, junctions, gaps.
Json course_data(const Scene& scene);

/// The robot as a page draws it: wheels and array.
Json robot_data(const Scene& scene);

} // namespace vast_turn
