#include "vast_turn/robot/wheel_speeds.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

namespace vast_turn {

double settled_speed(const Robot& robot, const Motor& motor, double power_pct) {
    const double power = std::clamp(power_pct, -100.0, 100.0);
    if (std::abs(power) < robot.motors.dead_band_pct) {
        return 0.0;
    }
    return power / 100.0 * motor.gain * motor.wheel * robot.top_speed_mm_s;
}

WheelSpeeds settled_speeds(const Robot& robot, const Faults& faults, double left_pct, double right_pct) {
    if (faults.motors_swapped) {
        std::swap(left_pct, right_pct);
    }
    const auto factor = [](const MotorFault& fault) { return fault.reversed ? -fault.strength : fault.strength; };
    return {factor(faults.left) * settled_speed(robot, robot.motors.left, left_pct),
            factor(faults.right) * settled_speed(robot, robot.motors.right, right_pct)};
}

} // namespace vast_turn
