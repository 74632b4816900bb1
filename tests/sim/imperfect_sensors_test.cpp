/// Sensors that are not ideal: each by itself against what it must give.

#include <cmath>
#include <set>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/course_toml.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/robot/day.hpp"

using namespace vast_turn;
using fixtures::message_of;

namespace {

std::vector<Look> looks_of(const Course& course, const Robot& robot, double left_pct, double right_pct, Pose pose,
                           double seconds = 1.0, std::uint64_t seed = 1) {
    RunOptions options;
    options.seed = seed;
    options.pose = pose;
    options.time_limit_s = seconds;
    options.lost_after_s = options.off_course_mm = 900.0;
    return fixtures::looks_of(course, robot, left_pct, right_pct, options);
}

Course across() { return fixtures::board({"M 400,20 V 580"}, 30.0); }

} // namespace

TEST_CASE("a response that is no straight line: counts go with a power of the light, and so does the calibration") {
    const Course course = across();
    Robot robot = fixtures::ideal_robot(2);
    for (const double curve : {0.5, 1.0, 2.2}) {
        CAPTURE(curve);
        robot.sensors[0].curve = curve;
        robot.sensors[0].gain = 0.8;
        const double floor = reflectance(course.floor, robot.sensors[0].light);
        const double line = reflectance(course.line, robot.sensors[0].light);
        const Look on_floor = looks_of(course, robot, 0, 0, {{100.0, 300.0}, 0.0}).front();
        const Look on_line = looks_of(course, robot, 0, 0, {{350.0, 300.0}, 0.0}).front();
        CHECK(on_floor.raw[0] == doctest::Approx(1023.0 * std::pow(0.8 * floor, curve)).epsilon(0.01));
        CHECK(std::abs(on_line.raw[0] - 1023.0 * std::pow(0.8 * line, curve)) < 8.0);
        CHECK(on_floor.sensor[0] < 0.05); // calibrated on the same curve
        CHECK(on_line.sensor[0] > 0.95);
    }
}

TEST_CASE("a slow sensor follows the light as a first-order lag does") {
    const Course course = across();
    Robot robot = fixtures::ideal_robot(1);
    robot.look_ms = 1.0;
    const Pose pose{{250.0, 300.0}, 0.0};
    const std::vector<Look> sharp = looks_of(course, robot, 50, 50, pose);
    for (const double lag_ms : {1.0, 4.0, 9.0}) {
        CAPTURE(lag_ms);
        robot.sensors[0].response_ms = lag_ms;
        const std::vector<Look> slow = looks_of(course, robot, 50, 50, pose);
        REQUIRE(slow.size() == sharp.size());
        double follows = sharp[0].raw[0];
        double farthest = 0.0;
        double brightest = 0.0;
        double darkest = 1e9;
        for (std::size_t i = 1; i < slow.size(); ++i) {
            // The light goes straight from look to look meanwhile.
            const double before = sharp[i - 1].raw[0];
            const double slope = (sharp[i].raw[0] - before) / 1.0;
            const double decay = std::exp(-1.0 / lag_ms);
            follows = sharp[i].raw[0] - slope * lag_ms + (follows - before + slope * lag_ms) * decay;
            if (i > 30) { // from rest it had another past
                farthest = std::max(farthest, std::abs(slow[i].raw[0] - follows));
            }
            brightest = std::max(brightest, static_cast<double>(sharp[i].raw[0]));
            darkest = std::min(darkest, static_cast<double>(sharp[i].raw[0]));
        }
        CHECK(brightest - darkest > 600.0); // it crossed the tape
        MESSAGE("lag of ", lag_ms, " ms: ", 100.0 * farthest / (brightest - darkest), " % of the contrast off");
        CHECK(farthest < 0.025 * (brightest - darkest));
    }
}

TEST_CASE("sensors read one after another see what lay under them so long ago") {
    const Course course = fixtures::board({"M 300,20 L 520,580"}, 30.0);
    Robot robot = fixtures::ideal_robot(4);
    robot.apart_ms = 1.5;
    Robot shifted = fixtures::ideal_robot(4);
    const double speed = 0.5 * robot.top_speed_mm_s;
    for (std::size_t k = 0; k < 4; ++k) {
        shifted.sensors[k].at_mm.x -= speed * 0.0015 * static_cast<double>(3 - k);
    }
    const Pose pose{{200.0, 300.0}, 0.0};
    const std::vector<Look> one = looks_of(course, robot, 50, 50, pose);
    const std::vector<Look> other = looks_of(course, shifted, 50, 50, pose);
    int on_line = 0;
    for (std::size_t i = 2; i < one.size(); ++i) {
        for (std::size_t k = 0; k < 4; ++k) {
            CHECK(std::abs(one[i].raw[k] - other[i].raw[k]) <= 1);
            on_line += one[i].raw[k] < 300 ? 1 : 0;
        }
    }
    CHECK(on_line > 20);
}

TEST_CASE("light from outside: even, from a window, a lamp, a shadow's edge, and what flickers") {
    using Kind = OutsideLight::Kind;
    const OutsideLight even{Kind::even, 0.4};
    const OutsideLight window{Kind::window, 1.0, {0.0, 0.0}, {800.0, 0.0}};
    OutsideLight lamp{Kind::lamp, 2.0, {500.0, 300.0}};
    lamp.height_mm = 400.0;
    CHECK(light_at({even}, {3.0, 4.0}, 0.0) == doctest::Approx(0.4));
    CHECK(light_at({window}, {200.0, 77.0}, 0.0) == doctest::Approx(0.75));
    CHECK(light_at({window}, {900.0, 77.0}, 0.0) == 0.0);
    CHECK(light_at({lamp}, {500.0, 300.0}, 0.0) == doctest::Approx(2.0));
    CHECK(light_at({lamp}, {500.0, 700.0}, 0.0) == doctest::Approx(2.0 * std::pow(0.5, 1.5)));
    OutsideLight shadow{Kind::shadow, 0.1, {500.0, 600.0}, {500.0, 0.0}}; // upwards on the board: left of it is x < 500
    CHECK(light_at({even, shadow}, {480.0, 300.0}, 0.0) == doctest::Approx(0.04));
    CHECK(light_at({even, shadow}, {520.0, 300.0}, 0.0) == doctest::Approx(0.4));
    CHECK(light_at({shadow, even}, {480.0, 300.0}, 0.0) == doctest::Approx(0.4)); // it falls on those before it
    shadow.soft_mm = 80.0;
    CHECK(light_at({even, shadow}, {500.0, 300.0}, 0.0) == doctest::Approx(0.4 * 0.55));
    OutsideLight tube = even;
    tube.flicker = 0.5;
    tube.flicker_hz = 50.0;
    CHECK(light_at({tube}, {}, 0.005) == doctest::Approx(0.6));
    CHECK(light_at({tube}, {}, 0.015) == doctest::Approx(0.2));

    Course course = across();
    Robot robot = fixtures::ideal_robot(2);
    robot.sensors[0].adc_max = 4095;
    robot.sensors[0].gain = robot.sensors[1].gain = 0.5;
    robot.sensors[0].outside = 0.6;
    const Pose pose{{100.0, 300.0}, 0.0};
    const Look dark = looks_of(course, robot, 0, 0, pose).front();
    course.lights = {even};
    const Look lit = looks_of(course, robot, 0, 0, pose).front();
    CHECK(lit.raw[0] == doctest::Approx(dark.raw[0] * (1.0 + 0.6 * 0.4)).epsilon(1e-3));
    CHECK(lit.raw[1] == dark.raw[1]); // its lamp alone
    CHECK(on_day(robot, {{Quantity::outside, 0, 3.0}}).sensors[0].outside == doctest::Approx(1.8));
    course.lights = {tube};
    std::set<double> seen;
    robot.look_ms = 7.0;
    for (const Look& look : looks_of(course, robot, 0, 0, pose)) {
        seen.insert(look.raw[0]);
    }
    CHECK(seen.size() > 10);
    CHECK(looks_of(course, robot, 0, 0, pose)[3].raw[0] == looks_of(course, robot, 0, 0, pose)[3].raw[0]);
    CHECK(looks_of(course, robot, 0, 0, pose)[3].raw[0] != looks_of(course, robot, 0, 0, pose, 1.0, 2)[3].raw[0]);
}

TEST_CASE("a sensor that drifts loses so much of its light in a minute") {
    const Course course = across();
    Robot robot = fixtures::ideal_robot(1);
    robot.sensors[0].drift = -0.3;
    const std::vector<Look> looks = looks_of(course, robot, 0, 0, {{100.0, 300.0}, 0.0}, 20.0);
    CHECK(looks.back().raw[0] == doctest::Approx(looks.front().raw[0] * 0.9).epsilon(2e-3));
}

TEST_CASE("light in course files: read, written and read again, and refused where it cannot be") {
    const std::string head = "name = \"c\"\nsize_mm = [400, 300]\n[[tape]]\npath = \"M 20,150 H 380\"\nwidth_mm = 17\n";
    const std::string lights =
        "[[light]]\nkind = \"lamp\"\nstrength = 1.4\nat_mm = [90, 40]\nheight_mm = 610\nflicker_hz = 99\nflicker = "
        "0.2\n"
        "[[light]]\nkind = \"shadow\"\nstrength = 0.2\nat_mm = [200, 0]\nto_mm = [210, 300]\nsoft_mm = 12\n";
    const Course course = parse_course(head + lights, "c");
    REQUIRE(course.lights.size() == 2);
    CHECK(course.lights[0].height_mm == 610.0);
    CHECK(course.lights[1].soft_mm == 12.0);
    const Course again = parse_course(course_toml(course), "again");
    CHECK(course_toml(again) == course_toml(course));
    CHECK(again.lights[0].flicker == doctest::Approx(0.2));
    const auto fault = [&](const std::string& light) { return message_of([&] { parse_course(head + light, "c"); }); };
    CHECK(fault("[[light]]\nkind = \"sun\"\nstrength = 1\n").find("`kind` is \"sun\"") != std::string::npos);
    CHECK(
        fault("[[light]]\nkind = \"shadow\"\nstrength = 2\nat_mm = [0, 0]\nto_mm = [1, 1]\n").find("expected 0 to 1") !=
        std::string::npos);
    CHECK(fault("[[light]]\nkind = \"lamp\"\nstrength = 1\n").find("`at_mm` is missing") != std::string::npos);
}

TEST_CASE("a slow colour sensor sees a short plate late or not at all; one whose white is off mistakes colours") {
    Course course =
        parse_course("name = \"c\"\nsize_mm = [1000, 600]\n[[tape]]\npath = \"M 20,300 H 980\"\nwidth_mm = 19\n"
                     "[palette]\namber = \"#E0A030\"\nteal = \"#148C82\"\n"
                     "[[marker]]\ncolour = \"amber\"\nat_mm = [400, 300]\nsize_mm = [30, 60]\n[[start]]\nname = "
                     "\"s\"\nat_mm = [100, 300]\nheading_deg = 0\n",
                     "c");
    Robot robot = fixtures::ideal_robot(2);
    ColourSensor nose;
    nose.name = "nose";
    nose.at_mm = {50.0, 0.0};
    robot.colour_sensors.push_back(nose);
    const Pose pose{{250.0, 300.0}, 0.0};
    const auto seen = [&](std::uint16_t bit) {
        int count = 0;
        for (const Look& look : looks_of(course, robot, 60, 60, pose)) {
            count += (look.markers & bit) != 0 ? 1 : 0;
        }
        return count;
    };
    const int quick = seen(1);
    CHECK(quick > 5);
    robot.colour_sensors[0].rate_ms = 40.0;
    CHECK(seen(1) > 0);
    CHECK(seen(1) % 4 == 0); // whole rates of 40 ms, looks of 10
    robot.colour_sensors[0].rate_ms = 700.0;
    CHECK(seen(1) == 0);
    robot.colour_sensors[0].rate_ms = 0.0;
    robot.colour_sensors[0].white = {0.2, 0.9, 2.2};
    CHECK(seen(1) == 0);
    CHECK(seen(2) > 5); // it takes it for teal
}

TEST_CASE("range: a beam, echoes lost at a slant, noise, steps, bounds, a rate of its own") {
    Course course = fixtures::board({"M 20,300 H 980"});
    course.walls.push_back({{640.0, 320.0}, {640.0, 420.0}}); // 20 to 120 mm to the right of its way
    Robot robot = fixtures::ideal_robot(2);
    robot.range_sensor = RangeSensor{{40.0, 0.0}, 0.0, 900.0};
    const Pose pose{{100.0, 300.0}, 0.0};
    const auto told = [&] { return looks_of(course, robot, 0, 0, pose).front().range_mm; };
    CHECK(told() == 900.0);
    robot.range_sensor->beam_deg = 20.0;
    CHECK(told() > 500.0);
    CHECK(told() < 506.0);
    robot.range_sensor->beam_deg = 0.0;
    course.walls[0] = {{540.0, 200.0}, {740.0, 400.0}}; // at 45 degrees
    CHECK(told() == doctest::Approx(500.0));
    robot.range_sensor->slant_deg = 50.0;
    CHECK(told() == doctest::Approx(500.0));
    robot.range_sensor->slant_deg = 40.0;
    CHECK(told() == 900.0);
    robot.range_sensor->slant_deg = 90.0;
    robot.range_sensor->step_mm = 30.0;
    CHECK(told() == doctest::Approx(510.0));
    robot.range_sensor->step_mm = 0.0;
    robot.range_sensor->noise_mm = 8.0;
    double sum = 0.0;
    double squares = 0.0;
    const std::vector<Look> many = looks_of(course, robot, 0, 0, pose, 10.0);
    for (const Look& look : many) {
        sum += look.range_mm - 500.0;
        squares += (look.range_mm - 500.0) * (look.range_mm - 500.0);
    }
    const auto n = static_cast<double>(many.size());
    CHECK(std::abs(sum / n) < 1.0);
    CHECK(std::sqrt(squares / n) == doctest::Approx(8.0).epsilon(0.08));
    robot.range_sensor->noise_mm = 0.0;
    robot.range_sensor->rate_ms = 60.0;
    std::set<double> values;
    for (const Look& look : looks_of(course, robot, 40, 40, pose, 0.6)) {
        values.insert(look.range_mm);
    }
    CHECK(values.size() == 10);
    robot.range_sensor->rate_ms = 0.0;
    robot.range_sensor->min_mm = 620.0;
    CHECK(told() == 620.0);
}

TEST_CASE("encoders count whole steps; a compass is off and unsteady") {
    const Course course = across();
    Robot robot = fixtures::ideal_robot(2);
    robot.encoders.counts = 48.0;
    robot.compass.fitted = true;
    robot.compass.bias_deg = 7.0;
    const std::vector<Look> looks = looks_of(course, robot, 20, 30, {{100.0, 300.0}, 0.0});
    Robot fine = robot;
    fine.encoders.counts = 0.0;
    const std::vector<Look> true_looks = looks_of(course, fine, 20, 30, {{100.0, 300.0}, 0.0});
    for (std::size_t i = 0; i < looks.size(); ++i) {
        CHECK(std::abs(std::remainder(looks[i].left_deg, 7.5)) < 1e-6);
        CHECK(looks[i].left_deg <= true_looks[i].left_deg + 1e-9);
        CHECK(looks[i].left_deg > true_looks[i].left_deg - 7.5 - 1e-9);
        CHECK(looks[i].heading_by_compass_deg == doctest::Approx(7.0 + true_looks[i].heading_by_wheels_deg));
    }
    robot.compass.noise_deg = 2.0;
    double squares = 0.0;
    const std::vector<Look> still = looks_of(course, robot, 0, 0, {{100.0, 300.0}, 0.0}, 8.0);
    for (const Look& look : still) {
        squares += (look.heading_by_compass_deg - 7.0) * (look.heading_by_compass_deg - 7.0);
    }
    CHECK(std::sqrt(squares / static_cast<double>(still.size())) == doctest::Approx(2.0).epsilon(0.1));
}

TEST_CASE("all of it is read from a robot's file, and bounds hold") {
    const std::string head = "name = \"r\"\ntrack_mm = 104\nwheel_mm = 41\ntop_speed_mm_s = 390\n";
    const std::string sensor =
        "[[sensor]]\nat_mm = [50, 0]\ncurve = 0.7\nresponse_ms = 2.5\noutside = 0.3\ndrift = -0.02\n";
    const Robot robot =
        parse_robot(head + "apart_ms = 0.2\n" + sensor +
                        "[[colour_sensor]]\nname = \"nose\"\nat_mm = [60, 0]\nrate_ms = 24\nwhite = [1, 0.95, 1.07]\n"
                        "[range_sensor]\nat_mm = [70, 0]\nmax_mm = 800\nmin_mm = 30\nbeam_deg = 25\nslant_deg = 55\n"
                        "noise_mm = 3\nstep_mm = 10\nrate_ms = 50\n[compass]\nbias_deg = 3\nnoise_deg = "
                        "1\n[encoders]\ncounts = 360\n",
                    "r");
    CHECK(robot.apart_ms == 0.2);
    CHECK(robot.sensors[0].curve == 0.7);
    CHECK(robot.sensors[0].response_ms == 2.5);
    CHECK(robot.sensors[0].outside == 0.3);
    CHECK(robot.sensors[0].drift == -0.02);
    CHECK(robot.colour_sensors[0].white[2] == 1.07);
    CHECK(robot.colour_sensors[0].rate_ms == 24.0);
    CHECK(robot.range_sensor->slant_deg == 55.0);
    CHECK(robot.range_sensor->min_mm == 30.0);
    CHECK(robot.compass.fitted);
    CHECK(robot.compass.bias_deg == 3.0);
    CHECK(robot.encoders.counts == 360.0);
    const auto fault = [&](const std::string& more) {
        return message_of([&] { parse_robot(head + sensor + more, "r"); });
    };
    CHECK(fault("[[colour_sensor]]\nname = \"n\"\nat_mm = [1, 0]\nwhite = [1, 1]\n")
              .find("`white` has 2 numbers, expected 3") != std::string::npos);
    CHECK(fault("[range_sensor]\nat_mm = [70, 0]\nmax_mm = 100\nmin_mm = 120\n").find("`min_mm`") != std::string::npos);
}
