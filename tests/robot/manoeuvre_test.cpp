#include "vast_turn/robot/manoeuvre.hpp"

#include <doctest/doctest.h>

#include "support/fixtures.hpp"

using namespace vast_turn;

namespace {

std::string does(double left_pct, double right_pct) {
    Robot robot = fixtures::ideal_robot(2);
    robot.track_mm = 120.0;
    robot.top_speed_mm_s = 400.0;
    robot.motors.dead_band_pct = 5.0;
    return to_text(manoeuvre_of(robot, left_pct, right_pct));
}

} // namespace

TEST_CASE("wheel powers as what the robot does") {
    CHECK(does(40, 40) == "straight");
    CHECK(does(-40, -40) == "straight back");
    CHECK(does(40, 41) == "straight, drifting left");
    CHECK(does(40, 60) == "left, radius 300 mm");
    CHECK(does(60, 40) == "right, radius 300 mm");
    CHECK(does(-60, -40) == "backwards, left, radius 300 mm");
    CHECK(does(0, 50) == "pivots left");
    CHECK(does(4, 50) == "pivots left"); // the dead band cuts
    CHECK(does(-30, 30) == "rotates left");
    CHECK(does(50, -20) == "turns right, radius 26 mm");
    CHECK(does(3, -3) == "still");
}

TEST_CASE("a motor's command: percent, count and direction, or an angle about the neutral one") {
    Motor motor;
    motor.reversed = true;
    CHECK(command_for(motor, 30.0).value == -30.0);
    motor.command = CommandKind::pwm;
    motor.span = 255.0;
    CHECK(command_for(motor, 30.0).value == 77.0);
    CHECK(command_for(motor, 30.0).backwards);
    CHECK_FALSE(command_for(motor, -300.0).backwards);
    CHECK(command_for(motor, -300.0).value == 255.0);
    motor.command = CommandKind::servo;
    motor.neutral = 93.5;
    motor.span = 40.0;
    CHECK(command_for(motor, 50.0).value == 73.5);
    motor.reversed = false;
    CHECK(command_for(motor, 50.0).value == 113.5);
}
