#pragma once

/// What in a log speaks against its being of that robot.

#include <string>
#include <vector>

#include "vast_turn/fit/drive_log.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// What the logs say that this robot could not say: by their columns, their period, and what the robot reckoned with
/// its own numbers. One sentence each.
std::vector<std::string> doubts_of(const Robot& robot, const std::vector<DriveLog>& logs);

/// What the numbers that were found say: too far from the file to be the same robot on another day.
std::vector<std::string> doubts_of(const Robot& robot, const Robot& fitted);

} // namespace vast_turn
