#pragma once

/// Files that say how days differ (`*.days.toml`; docs/files.md): a [variation] as robot files may have one,
/// alone or in a file of trips.

#include <string>
#include <string_view>

#include "vast_turn/robot/variation.hpp"

namespace vast_turn {

/// Reads one; `file` is what faults call it. Throws InputError with every fault found.
Variation parse_days(std::string_view text, std::string_view file);

/// The same from a file.
Variation load_days(const std::string& path);

} // namespace vast_turn
