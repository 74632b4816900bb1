#pragma once

/// A drive that tells what a fit wants to know.

#include <string>

#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// A plan, as text, that tells most of a robot's numbers when it is driven on open floor of two metres each way: it
/// stands (noise, drift), creeps (dead band, friction), jumps between powers (lag, delay), goes at full power (top
/// speed, battery) and turns both ways (track). About 40 seconds. It asks for nothing but the line sensors.
std::string telling_drive(const Robot& robot);

} // namespace vast_turn
