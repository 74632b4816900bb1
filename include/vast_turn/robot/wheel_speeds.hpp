#pragma once

/// The speeds that wheels settle at.

#include "vast_turn/robot/faults.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// Speed that a free wheel settles at for a power in percent: clipped to +-100, nothing in the dead
/// band, else in proportion.
double settled_speed(const Robot& robot, const Motor& motor, double power_pct);

/// Of both wheels over the ground, positive forward.
struct WheelSpeeds {
    double left_mm_s = 0.0;
    double right_mm_s = 0.0;
};

/// Speeds that free wheels with a full battery would settle at for the powers asked of a robot with faults.
WheelSpeeds wheel_targets(const Robot& robot, const Faults& faults, double left_pct, double right_pct);

/// Speeds that both wheels settle at on the floor, from rest, for the powers asked of a robot with faults: the targets,
/// less what a robot with weight loses to friction and to its battery. Tyres are taken to hold.
WheelSpeeds settled_speeds(const Robot& robot, const Faults& faults, double left_pct, double right_pct);

} // namespace vast_turn
