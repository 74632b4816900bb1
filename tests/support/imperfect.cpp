#include "support/imperfect.hpp"

#include <algorithm>
#include <cmath>

#include "vast_turn/robot/day.hpp"

namespace fixtures {

using namespace vast_turn;

Variation any_variation(std::mt19937& random) {
    Variation variation;
    for (const QuantityFacts& facts : quantities()) {
        if (random() % 3 == 0) {
            continue;
        }
        Scatter how;
        how.kind = static_cast<Scatter::Kind>(random() % 3);
        how.middle = facts.usual;
        how.deviation = facts.most - facts.least;
        how.from = facts.least;
        how.to = facts.most;
        how.values = {facts.least, facts.usual, facts.most};
        variation.push_back({facts.quantity, how});
    }
    return variation;
}

Drive any_drive(std::mt19937& random) {
    const auto between = [&](double low, double high) {
        const auto part = static_cast<double>(random() % 5) / 4.0;
        return low * std::pow(high / low, part);
    };
    Drive drive;
    drive.mass_g = between(5.0, 50000.0);
    drive.gyration_mm = between(1.0, 1000.0);
    drive.on_wheels = between(0.05, 1.0);
    drive.grip = between(0.02, 5.0);
    drive.wheel_g = between(0.1, 5000.0);
    drive.caster_mm = {between(1.0, 1000.0), -between(1.0, 1000.0)};
    drive.caster_drag = random() % 2 == 0 ? 0.0 : between(0.01, 3.0);
    drive.keep_pct = random() % 2 == 0 ? 0.0 : between(0.1, 95.0);
    drive.start_pct = std::max(drive.keep_pct, between(0.1, 95.0));
    drive.play_deg = random() % 2 == 0 ? 0.0 : between(0.01, 45.0);
    drive.sag = random() % 2 == 0 ? 0.0 : between(0.01, 0.9);
    drive.run_down = random() % 2 == 0 ? 0.0 : between(0.01, 0.5);
    return drive;
}

void make_sensors_imperfect(Robot& robot, std::mt19937& random) {
    const auto one_of = [&](std::initializer_list<double> values) {
        return *(values.begin() + random() % values.size());
    };
    robot.apart_ms = one_of({0.0, 0.3, 100.0});
    for (LineSensor& sensor : robot.sensors) {
        sensor.curve = one_of({0.2, 1.0, 5.0});
        sensor.response_ms = one_of({0.0, 2.0, 1000.0});
        sensor.outside = one_of({0.0, 0.4, 100.0});
        sensor.drift = one_of({-0.9, 0.0, 0.9});
        sensor.height_mm = one_of({0.0, 0.2, 8.0, 200.0});
    }
    for (ColourSensor& sensor : robot.colour_sensors) {
        sensor.rate_ms = one_of({0.0, 30.0, 10000.0});
        sensor.exposure_ms = one_of({0.0, 20.0, 1000.0});
        sensor.line_sensor = random() % 2 == 0 ? std::optional<std::size_t>(0) : std::nullopt;
        sensor.blind_ms = one_of({0.0, 20.0, 10000.0});
        sensor.white = {one_of({0.1, 1.0, 4.0}), one_of({0.1, 1.0, 4.0}), one_of({0.1, 1.0, 4.0})};
    }
    robot.encoders.counts = one_of({0.0, 1.0, 1e6});
    robot.encoders.lost = one_of({0.0, 0.9});
    robot.compass.fitted = random() % 2 == 0;
    robot.compass.noise_deg = one_of({0.0, 90.0});
    robot.gyro = {robot.gyro.fitted,   one_of({0.5, 2.0}),    one_of({-50.0, 0.0}),
                  one_of({0.0, 50.0}), one_of({-50.0, 50.0}), one_of({0.0, 600000.0})};
    robot.delay_varies_ms = one_of({0.0, 1000.0});
    if (robot.range_sensor) {
        robot.range_sensor->beam_deg = one_of({0.0, 120.0});
        robot.range_sensor->slant_deg = one_of({1.0, 90.0});
        robot.range_sensor->noise_mm = one_of({0.0, 1000.0});
        robot.range_sensor->step_mm = one_of({0.0, 1000.0});
        robot.range_sensor->rate_ms = one_of({0.0, 10000.0});
    }
}

} // namespace fixtures
