#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/sim/run.hpp"

namespace vast_turn {

namespace {

/// A plan that asks for what the robot cannot tell would wait for ever.
void check_inputs(const Robot& robot, const Plan& plan) {
    const auto refuse = [&](const char* what, const char* cure) {
        throw InputError(plan.file(),
                         fmt::format("the plan asks for {}, which robot \"{}\" cannot tell", what, robot.name), cure);
    };
    if (plan.reads(runtime::Op::range) && !robot.range_sensor) {
        refuse("range", "give the robot a [range_sensor] with at_mm, or leave the rule out");
    }
    if (plan.reads(runtime::Op::marker) && robot.colour_sensors.empty()) {
        refuse("a marker", "give the robot a [[colour_sensor]] with name and at_mm, or leave the rule out");
    }
    for (const std::string& place : plan.places()) {
        const bool known = std::any_of(robot.colour_sensors.begin(), robot.colour_sensors.end(),
                                       [&](const ColourSensor& sensor) { return sensor.name == place; });
        if (!known) {
            refuse(fmt::format("a marker at {}", place).c_str(),
                   fmt::format("give the robot a [[colour_sensor]] with name = \"{}\"", place).c_str());
        }
    }
    if (plan.reads_turn_by(runtime::Source::gyro) && !robot.gyro.fitted) {
        refuse("a turn by gyro", "write [gyro] into the robot file, or take the turn from wheels");
    }
    if (plan.reads_turn_by(runtime::Source::compass) && !robot.compass.fitted) {
        refuse("a turn by compass", "write [compass] into the robot file, or take the turn from wheels");
    }
    if (robot.encoders.fitted) {
        return;
    }
    const bool any_turn = plan.reads_turn_by(runtime::Source::best) || plan.reads(runtime::Op::heading);
    if (plan.reads_way() || plan.reads_turn_by(runtime::Source::wheels)) {
        refuse("a way or a wheel's turn", "fit [encoders], or end the item after a time");
    }
    if (any_turn && !robot.gyro.fitted && !robot.compass.fitted) {
        refuse("a turn", "fit [encoders], a [gyro] or a [compass]");
    }
}

} // namespace

void check_sensor_count(const Robot& robot, const Plan& plan) {
    const auto sensors = static_cast<int>(robot.sensors.size());
    if (plan.sensors() != sensors) {
        throw InputError(plan.file(),
                         fmt::format("the plan is written for {} line sensors, robot \"{}\" has {}", plan.sensors(),
                                     robot.name, sensors),
                         "use a robot and a plan that belong together");
    }
}

void check_fit(const Robot& robot, const Plan& plan) {
    check_sensor_count(robot, plan);
    check_inputs(robot, plan);
}

} // namespace vast_turn
