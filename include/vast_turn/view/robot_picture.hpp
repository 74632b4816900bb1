#pragma once

/// A robot by itself.

#include <string>

#include "vast_turn/robot/robot_facts.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// To scale, ahead is up: wheels, line sensors with their spots, colour sensors, the ray of the range sensor; beside
/// it what it does at some powers. The bytes of a whole file.
std::string draw_robot(const Robot& robot, const RobotFacts& facts, PictureFormat format);

} // namespace vast_turn
