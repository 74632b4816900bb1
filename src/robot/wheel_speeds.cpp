#include "vast_turn/robot/wheel_speeds.hpp"

#include <algorithm>
#include <array>
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

namespace {

/// The battery's voltage for steady wheels: those that turn draw what friction takes, those held by it all that their
/// duty gives (sim/drivetrain.cpp has the same battery moment by moment).
WheelSpeeds on_the_floor(const Robot& robot, WheelSpeeds targets) {
    const Drive& drive = *robot.drive;
    struct Side {
        double target;
        double full_speed;
        double speed = 0.0;
        bool turns = true;
    };
    const auto full = [&](const Motor& motor) { return robot.top_speed_mm_s * motor.gain * motor.wheel; };
    std::array<Side, 2> sides = {
        {{targets.left_mm_s, full(robot.motors.left)}, {targets.right_mm_s, full(robot.motors.right)}}};
    const double resistance = drive.resistance();
    const double keep = drive.keep_pct / 100.0;
    const double start = drive.starts_pct() / 100.0;
    constexpr int passes = 3; // one that stops lowers the voltage for the other
    for (int pass = 0; pass < passes; ++pass) {
        double draws = 0.0;
        double holds = 0.0;
        for (const Side& side : sides) {
            const double duty = std::abs(side.target / side.full_speed);
            (side.turns ? draws : holds) += side.turns ? duty * keep : duty * duty;
        }
        const double part = (1.0 - resistance * draws) / (1.0 + resistance * holds);
        for (Side& side : sides) {
            const double pull = part * std::abs(side.target);
            side.turns = pull > start * side.full_speed;
            side.speed = side.turns ? std::copysign(pull - keep * side.full_speed, side.target) : 0.0;
        }
    }
    return {sides[0].speed, sides[1].speed};
}

} // namespace

WheelSpeeds settled_speeds(const Robot& robot, const Faults& faults, double left_pct, double right_pct) {
    const WheelSpeeds targets = wheel_targets(robot, faults, left_pct, right_pct);
    return robot.drive ? on_the_floor(robot, targets) : targets;
}

WheelSpeeds wheel_targets(const Robot& robot, const Faults& faults, double left_pct, double right_pct) {
    if (faults.motors_swapped) {
        std::swap(left_pct, right_pct);
    }
    const auto factor = [](const MotorFault& fault) { return fault.reversed ? -fault.strength : fault.strength; };
    return {factor(faults.left) * settled_speed(robot, robot.motors.left, left_pct),
            factor(faults.right) * settled_speed(robot, robot.motors.right, right_pct)};
}

} // namespace vast_turn
