#pragma once

/// Robots from files (`*.robot.toml`; docs/files.md).

#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/robot/robot.hpp"
#include "vast_turn/settings/setting.hpp"

namespace vast_turn {

/// Reads a robot file (`*.robot.toml`; see docs/files.md). Throws InputError with every fault found.
Robot load_robot(const std::string& path);

/// The same from text; `file` is what faults call it.
Robot parse_robot(std::string_view text, std::string_view file);

/// The same with those numbers that are a robot's set to other values; keys that the file leaves out may be set too.
/// Throws InputError also for a key that there is not, or a value that cannot be.
Robot parse_robot(std::string_view text, std::string_view file, const std::vector<Setting>& settings);

/// A number of a robot file that a setting names, as the file says it; nothing where it leaves it out. Throws
/// InputError for a text that is no TOML.
std::optional<double> robot_number(std::string_view text, std::string_view file, const Setting& setting);

} // namespace vast_turn
