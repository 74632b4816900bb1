/// Robots as imperfect as can be written down: nothing but numbers comes out.

#include <algorithm>
#include <cmath>
#include <random>

#include <doctest/doctest.h>

#include "support/rounds.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

namespace {

struct Driven {
    const char* course;
    const char* robot;
    const char* plan;
};

constexpr Driven driven_models[] = {
    {"aisle", "sprig-1", "edge-right"},       {"aisle", "sprig-2", "two-beside"},
    {"aisle", "sprig-3", "three-pi"},         {"aisle", "sprig-4", "four-table"},
    {"drain", "sprig-5", "search"},           {"turns", "sprig-3", "colour-rules"},
    {"stages", "sprig-3", "stages"},          {"crossing", "sprig-3", "turn-by-heading"},
    {"crossing", "sprig-3", "turn-by-wheels"}};

/// Any number of quantities, each anywhere within its bounds, mostly to their ends.
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

/// Anything that a file may say of a robot's weight, as often its bounds as what lies between.
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

bool is_sound(const LookRecord& look, const Robot& robot) {
    bool sound = std::isfinite(look.at.x) && std::isfinite(look.at.y) && std::isfinite(look.heading_deg) &&
                 std::isfinite(look.way_mm) && std::isfinite(look.range_mm) && std::isfinite(look.left_pct) &&
                 std::isfinite(look.right_pct);
    for (std::size_t k = 0; k < robot.sensors.size(); ++k) {
        sound = sound && look.raw[k] <= robot.sensors[k].adc_max;
    }
    return sound;
}

} // namespace

TEST_CASE("random imperfect robots over the model plans: nothing but numbers comes out") {
    const auto robots = static_cast<std::uint32_t>(fixtures::rounds(300, 45, 4));
    std::size_t looks = 0;
    std::size_t number = 0;
    for (const Driven& model : driven_models) {
        if (fixtures::sanitized() && (&model - driven_models) % 3 != 0) {
            number += 1;
            continue;
        }
        Course course = load_course(std::string("data/fern-house/") + model.course + ".course.toml");
        course.lights = {{OutsideLight::Kind::lamp, 40.0, {300.0, 200.0}},
                         {OutsideLight::Kind::shadow, 0.0, {0.0, 0.0}, {600.0, 500.0}}};
        course.irons = {{{300.0, 200.0}, 20.0}, {{310.0, 200.0}, -20.0}};
        Robot robot = load_robot(std::string("data/fern-house/") + model.robot + ".robot.toml");
        const Plan plan = load_plan(std::string("data/fern-house/plans/") + model.plan + ".plan");
        for (std::uint32_t seed = 1; seed <= robots / std::size(driven_models) + 1; ++seed) {
            std::mt19937 random(static_cast<std::uint32_t>(++number));
            robot.variation = any_variation(random);
            robot.drive.reset();
            if (number % 2 == 0) {
                robot.drive = any_drive(random);
            }
            make_sensors_imperfect(robot, random);
            const Scene scene(course, robot);
            for (std::uint64_t day = 1; day <= (fixtures::sanitized() ? 1 : 3); ++day) {
                CAPTURE(model.plan);
                CAPTURE(seed);
                CAPTURE(day);
                RunOptions options;
                options.seed = seed;
                options.day = day;
                options.time_limit_s = 4.0;
                options.button_s = {{0.4, 0.7}};
                const Run run = drive(scene, plan, options);
                CHECK(std::isfinite(run.way_mm));
                CHECK(std::isfinite(run.turned_deg));
                CHECK(run.time_s <= 4.0);
                bool sound = true;
                for (const LookRecord& look : run.looks) {
                    sound = sound && is_sound(look, robot);
                }
                CHECK(sound);
                looks += run.looks.size();
                CHECK(drive(scene, plan, options).end_at == run.end_at);
            }
        }
    }
    CHECK(looks > (fixtures::sanitized() ? 30 : 100) * robots);
}
