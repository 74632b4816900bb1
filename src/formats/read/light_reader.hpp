#pragma once

/// Reads the light that falls on a course from outside.

#include "formats/read/toml_reader.hpp"
#include "vast_turn/course/board/outside_light.hpp"

namespace vast_turn {

/// All `[[light]]` of a course file, in order.
std::vector<OutsideLight> read_lights(TomlTable& root);

} // namespace vast_turn
