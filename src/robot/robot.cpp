#include "vast_turn/robot/robot.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

MotorCommand command_for(const Motor& motor, double power_pct) {
    const double power = std::clamp(power_pct, -100.0, 100.0) * (motor.reversed ? -1.0 : 1.0);
    switch (motor.command) {
    case CommandKind::percent: return {power, false};
    case CommandKind::pwm: return {std::round(std::abs(power) / 100.0 * motor.span), power < 0.0};
    case CommandKind::servo: return {motor.neutral + power / 100.0 * motor.span, false};
    }
    return {};
}

const char* name_of(CommandKind kind) {
    switch (kind) {
    case CommandKind::percent: return "percent";
    case CommandKind::pwm: return "pwm";
    case CommandKind::servo: return "servo";
    }
    return "";
}

} // namespace vast_turn
