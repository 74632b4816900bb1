/// What faults do to a run.
#include <cmath>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

namespace {

/// Drives both wheels alike for a second on a board with tape under the left sensor only.
Run driven(const std::vector<std::string>& faults, Robot robot = fixtures::ideal_robot(2)) {
    const Course course = fixtures::board({"M 20,293 H 980"}, 10.0);
    const Scene scene(course, robot);
    RunOptions options;
    options.time_limit_s = 1.0;
    options.faults = parse_faults(faults, 2);
    return drive(scene, Decide([](const Look&, Answer& answer) {
                     const Answer nothing;
                     answer = nothing;
                     answer.left_pct = answer.right_pct = 40.0;
                 }),
                 options);
}

std::uint8_t first_bits(const std::vector<std::string>& faults) { return driven(faults).looks.front().line_bits; }

} // namespace

TEST_CASE("sensors: swapped, dead, stuck and dim ones report what their wires carry") {
    CHECK(first_bits({}) == 0b01);
    CHECK(first_bits({"swapped:1,2"}) == 0b10);
    CHECK(first_bits({"sensor2=dead"}) == 0b11); // dark for ever is line for ever
    CHECK(first_bits({"sensor1=stuck:0.95"}) == 0b00);
    CHECK(first_bits({"sensor2=dim:0.3"}) == 0b11);
    CHECK(driven({"sensor1=stuck:0.5"}).looks.front().raw[0] == 512);
    CHECK(driven({"sensor1=dead"}).looks.front().raw[0] == 0);
}

TEST_CASE("a fault belongs to the sensor, wherever its wire goes") {
    const Run run = driven({"sensor1=dead", "swapped:1,2"});
    CHECK(run.looks.front().raw[1] == 0);
    CHECK(run.looks.front().raw[0] > 700);
}

TEST_CASE("motors: reversed, weak and swapped ones turn the robot") {
    CHECK(std::abs(driven({}).turned_deg) < 1e-9);
    CHECK(driven({"left_motor=reversed"}).turned_deg > 30.0);
    CHECK(driven({"right_motor=weak:0.8"}).turned_deg < -5.0);
    const double half = driven({"left_motor=weak:0.5", "right_motor=weak:0.5"}).way_mm;
    CHECK(half == doctest::Approx(0.5 * driven({}).way_mm));
    Robot uneven = fixtures::ideal_robot(2);
    uneven.motors.left.gain = 0.8;
    const double own = driven({}, uneven).turned_deg;
    CHECK(own > 0.0);
    CHECK(driven({"motors=swapped"}, uneven).turned_deg == doctest::Approx(own)); // both were asked for the same
}

TEST_CASE("noise stays out of a dead sensor, and the others keep theirs") {
    Robot robot = fixtures::ideal_robot(2);
    robot.sensors[0].noise = robot.sensors[1].noise = 9.0;
    const Run sound = driven({}, robot);
    const Run dead = driven({"sensor1=dead"}, robot);
    for (std::size_t i = 0; i < sound.looks.size(); ++i) {
        CHECK(dead.looks[i].raw[0] == 0);
        CHECK(dead.looks[i].raw[1] == sound.looks[i].raw[1]);
    }
}

TEST_CASE("a sensor with less gain has its own calibration on the course") {
    Robot robot = fixtures::ideal_robot(2);
    robot.sensors[1].gain = 0.5;
    const Run run = driven({}, robot);
    CHECK(run.looks.front().line_bits == 0b01);
    CHECK(run.looks.front().raw[1] < 600);
}
