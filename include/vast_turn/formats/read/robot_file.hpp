#pragma once

/// Robots from files (`*.robot.toml`; docs/files.md).

#include <string>
#include <string_view>

#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// Reads a robot file (`*.robot.toml`; see docs/files.md). Throws InputError with every fault found.
Robot load_robot(const std::string& path);

/// The same from text; `file` is what faults call it.
Robot parse_robot(std::string_view text, std::string_view file);

} // namespace vast_turn
