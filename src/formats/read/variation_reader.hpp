#pragma once

/// Reads how days differ.

#include "formats/read/toml_reader.hpp"
#include "vast_turn/robot/variation.hpp"

namespace vast_turn {

/// A [variation] table.
Variation read_variation(TomlTable table);

} // namespace vast_turn
