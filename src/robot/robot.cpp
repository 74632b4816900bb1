#include "vast_turn/robot/robot.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

std::vector<double> position_weights(const Robot& robot) {
    double outermost = 0.0;
    for (const LineSensor& sensor : robot.sensors) {
        outermost = std::max(outermost, std::abs(sensor.at_mm.y));
    }
    std::vector<double> weights;
    for (const LineSensor& sensor : robot.sensors) {
        weights.push_back(outermost > 0.0 ? sensor.at_mm.y / outermost : 0.0);
    }
    return weights;
}

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

ArrayFacts array_facts(const Robot& robot) {
    ArrayFacts facts;
    for (const LineSensor& sensor : robot.sensors) {
        facts.adc_max.push_back(sensor.adc_max);
        facts.left_mm.push_back(sensor.at_mm.y);
    }
    return facts;
}

} // namespace vast_turn
