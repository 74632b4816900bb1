#include "emit/chassis.hpp"

#include <algorithm>
#include <utility>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "emit/header.hpp"
#include "vast_turn/runtime/reckoning.hpp"

namespace vast_turn::emit {

namespace {

std::string best_heading(const Robot& robot) {
    return robot.gyro.fitted      ? "heading_by_gyro_deg"
           : robot.compass.fitted ? "heading_by_compass_deg"
                                  : "heading_by_wheels_deg";
}

std::string channels_of_array(const Robot& robot) {
    std::vector<std::string> channels;
    for (const LineSensor& sensor : robot.sensors) {
        channels.push_back(sensor.channel);
    }
    return veiled(c_comment(fmt::format("{}", fmt::join(channels, ", "))));
}

template <class Numbers> std::pair<double, double> reckoning(const Robot& robot) {
    const WheelReckoning<Numbers> wheels(robot.wheel_mm, robot.track_mm);
    return {wheels.way_per_deg(), wheels.turn_per_deg()};
}

} // namespace

std::string Chassis::edge_type() const {
    const bool fits = std::all_of(robot.sensors.begin(), robot.sensors.end(),
                                  [](const LineSensor& sensor) { return sensor.adc_max < 65535; });
    return fits ? "uint16_t" : "uint32_t";
}

std::string Chassis::way_of(const std::string& left_deg, const std::string& right_deg) const {
    const bool is_short = shape.pieces.numbers() == NumberKind::binary32;
    const double way = (is_short ? reckoning<runtime::Binary32>(robot) : reckoning<runtime::Binary64>(robot)).first;
    return fmt::format("({} + {}) * {}", left_deg, right_deg, shape.pieces.number(way));
}

std::string Chassis::turn_of(const std::string& left_deg, const std::string& right_deg) const {
    const bool is_short = shape.pieces.numbers() == NumberKind::binary32;
    const double turn = (is_short ? reckoning<runtime::Binary32>(robot) : reckoning<runtime::Binary64>(robot)).second;
    return fmt::format("({} - {}) * {}", right_deg, left_deg, shape.pieces.number(turn));
}

bool Chassis::asks(const std::string& field) const { return std::find(look.begin(), look.end(), field) != look.end(); }

bool Chassis::has(const std::string& sense) const {
    return std::any_of(senses.begin(), senses.end(), [&](const Sense& one) { return one.field.name == sense; });
}

bool Chassis::counts_from_start() const {
    return std::any_of(senses.begin(), senses.end(), [](const Sense& one) { return one.from_start; });
}

Chassis::Chassis(const Shape& of_shape, const Robot& of_robot, std::optional<Calibration> with)
    : shape(of_shape), robot(of_robot), calibration(std::move(with)), look(look_fields(of_shape)),
      heading(best_heading(of_robot)) {
    const auto turns_by = [&](const std::string& source) {
        return asks(source) || (asks("heading_deg") && heading == source);
    };
    const auto add = [&](bool needed, const char* name, const char* about, bool from_start = false) {
        if (needed) {
            senses.push_back({{"@number", name, 0, about}, 0, from_start});
        }
    };
    senses.push_back({{"uint16_t", "counts", static_cast<int>(sensors()),
                       "of the converter, from the left: " + channels_of_array(robot)},
                      2,
                      false});
    const bool by_wheels = turns_by("heading_by_wheels_deg") || asks("way_mm");
    add(by_wheels || asks("left_deg"), "left_deg", "how far the left wheel has turned, forward positive", true);
    add(by_wheels || asks("right_deg"), "right_deg", "how far the right wheel has turned, forward positive", true);
    add(turns_by("heading_by_gyro_deg"), "gyro_deg", "turn by the gyro, counter-clockwise; does not wrap", true);
    add(turns_by("heading_by_compass_deg"), "compass_deg", "heading by the compass, counter-clockwise; does not wrap");
    add(asks("range_mm"), "range_mm", "to what is ahead; the farthest that the sensor tells when nothing is");
    add(asks("battery_pct"), "battery_pct", "what is left of it, 0 .. 100");
    if (asks("button")) {
        senses.push_back({{"bool", "button", 0, "whether the start button is held"}, 1, false});
    }
    const auto bits = [&](const char* name, int count, const char* about) {
        if (asks(name)) {
            senses.push_back({{"uint16_t", name, count, about}, 2, false});
        }
    };
    bits("markers", 0, "what any colour sensor sees: $SEES_... or'ed");
    bits("markers_at", static_cast<int>(shape.plan.places().size()), "what one of them sees: markers_at[$AT_...]");
    bits("heard", 0, "what came since the look before: $HEARS_... or'ed");
}

} // namespace vast_turn::emit
