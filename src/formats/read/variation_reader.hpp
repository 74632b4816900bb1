#pragma once

/// Reads how days differ.

#include <string_view>

#include "formats/read/toml_reader.hpp"
#include "vast_turn/robot/variation.hpp"

namespace vast_turn {

/// A [variation] table; `file` is in which it stands.
Variation read_variation(TomlTable table, std::string_view file);

} // namespace vast_turn
