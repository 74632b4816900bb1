#pragma once

/// Reads what works on a course from outside: light, iron.

#include "formats/read/toml_reader.hpp"
#include "vast_turn/course/board/iron.hpp"
#include "vast_turn/course/board/outside_light.hpp"

namespace vast_turn {

/// All `[[light]]` of a course file, in order.
std::vector<OutsideLight> read_lights(TomlTable& root);
/// All `[[iron]]`.
std::vector<Iron> read_irons(TomlTable& root);

} // namespace vast_turn
