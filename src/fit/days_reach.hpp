#pragma once

/// How far a robot's numbers go on its days.

#include <optional>
#include <string>
#include <utility>

#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// From where to where a number of the robot file (by its key, as a fit tells it) goes on the days of the robot's
/// variation, all quantities that move it taken together; none when no day moves it. Normal ones go as far as four
/// deviations, which is as far as days do.
std::optional<std::pair<double, double>> reach_of_days(const Robot& robot, const std::string& key);

} // namespace vast_turn
