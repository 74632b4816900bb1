#pragma once

/// A robot and what follows from it, as JSON (docs/files.md).

#include <string>

#include "vast_turn/robot/robot_facts.hpp"

namespace vast_turn {

/// Units stand in the keys.
std::string robot_json(const Robot& robot, const RobotFacts& facts);

} // namespace vast_turn
