#include "fit/days_reach.hpp"

#include <algorithm>
#include <cstddef>
#include <cstdlib>
#include <initializer_list>

#include "fit/rim_ways.hpp"

namespace vast_turn {

namespace {

struct Reach {
    double low;
    double high;
    bool moves; ///< a quantity of the days does so
};

Reach reach_of(const Robot& robot, Quantity quantity) {
    const QuantityFacts& facts = facts_of(quantity);
    for (const Varied& varied : robot.variation) {
        if (varied.what != quantity) {
            continue;
        }
        const Scatter& how = varied.how;
        Reach out{how.middle - 4.0 * how.deviation, how.middle + 4.0 * how.deviation, true};
        if (how.kind == Scatter::Kind::even) {
            out = {how.from, how.to, true};
        } else if (how.kind == Scatter::Kind::one_of) {
            const auto [least, most] = std::minmax_element(how.values.begin(), how.values.end());
            out = {*least, *most, true};
        }
        return {std::clamp(out.low, facts.least, facts.most), std::clamp(out.high, facts.least, facts.most), true};
    }
    return {facts.usual, facts.usual, false};
}

Reach times(const Robot& robot, double filed, std::initializer_list<Quantity> quantities) {
    Reach out{filed, filed, false};
    for (const Quantity quantity : quantities) {
        const Reach one = reach_of(robot, quantity);
        out = {out.low * one.low, out.high * one.high, out.moves || one.moves};
    }
    return out;
}

Reach plus(const Robot& robot, double filed, Quantity quantity) {
    const Reach one = reach_of(robot, quantity);
    return {filed + one.low, filed + one.high, one.moves};
}

/// What one motor gives as a part of what the other does.
Reach against(const Robot& robot, double filed, Quantity quantity, Quantity measure) {
    const Reach one = reach_of(robot, quantity);
    const Reach other = reach_of(robot, measure);
    return {filed * one.low / other.high, filed * one.high / other.low, one.moves || other.moves};
}

/// "sensor.2.noise": 2; 0 for another key.
std::size_t sensor_of(const std::string& key, const Robot& robot) {
    const std::size_t number =
        key.starts_with("sensor.") ? static_cast<std::size_t>(std::strtoul(key.c_str() + 7, nullptr, 10)) : 0;
    return number <= robot.sensors.size() ? number : 0;
}

Reach reach_of_motors(const Robot& robot, const std::string& key) {
    const bool left = left_is_measure(robot);
    if (key == "top_speed_mm_s") {
        return times(robot, robot.top_speed_mm_s,
                     {left ? Quantity::left_motor : Quantity::right_motor, Quantity::battery});
    }
    if (key == "motors.left.gain") {
        return against(robot, robot.motors.left.gain, Quantity::left_motor, Quantity::right_motor);
    }
    if (key == "motors.right.gain") {
        return against(robot, robot.motors.right.gain, Quantity::right_motor, Quantity::left_motor);
    }
    if (key == "motors.left.wheel") {
        return times(robot, robot.motors.left.wheel, {Quantity::left_wheel});
    }
    if (key == "motors.right.wheel") {
        return times(robot, robot.motors.right.wheel, {Quantity::right_wheel});
    }
    if (key == "motors.lag_ms") {
        return times(robot, robot.motors.lag_ms, {Quantity::motor_lag});
    }
    return plus(robot, robot.motors.dead_band_pct, Quantity::dead_band);
}

Reach reach_of_rest(const Robot& robot, const std::string& key) {
    if (const std::size_t sensor = sensor_of(key, robot)) {
        const LineSensor& one = robot.sensors[sensor - 1];
        return key.ends_with(".noise") ? times(robot, one.noise, {Quantity::noise})
                                       : times(robot, one.gain, {Quantity::light, Quantity::sensor});
    }
    if (key == "delay_ms") {
        return plus(robot, robot.delay_ms, Quantity::delay);
    }
    if (key == "delay_varies_ms") {
        return plus(robot, robot.delay_varies_ms, Quantity::delay_varies);
    }
    if (key == "track_mm") {
        return times(robot, robot.track_mm, {Quantity::skid});
    }
    if (key == "gyro.scale") {
        return times(robot, robot.gyro.scale, {Quantity::gyro_scale});
    }
    if (key == "gyro.drift_deg_s") {
        return plus(robot, robot.gyro.drift_deg_s, Quantity::gyro_drift);
    }
    if (key == "drive.keep_pct" && robot.drive) {
        return plus(robot, robot.drive->keep_pct, Quantity::friction);
    }
    if (key == "drive.sag" && robot.drive) {
        return times(robot, robot.drive->sag, {Quantity::sag});
    }
    return {0.0, 0.0, false};
}

} // namespace

std::optional<std::pair<double, double>> reach_of_days(const Robot& robot, const std::string& key) {
    const Reach reach =
        key == "top_speed_mm_s" || key.starts_with("motors.") ? reach_of_motors(robot, key) : reach_of_rest(robot, key);
    return reach.moves ? std::optional(std::pair{reach.low, reach.high}) : std::nullopt;
}

} // namespace vast_turn
