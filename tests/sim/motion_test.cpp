/// The closed forms that the motion must meet.
#include "vast_turn/sim/motion.hpp"

#include <cmath>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"

using namespace vast_turn;

namespace {

Body driven(const Robot& robot, double step_ms, int steps, double left_mm_s, double right_mm_s, Body body = {}) {
    Motion(robot, step_ms).advance(body, steps, left_mm_s, right_mm_s);
    return body;
}

} // namespace

TEST_CASE("equal wheels drive straight") {
    Body start;
    start.ahead = direction(90.0);
    const Body body = driven(fixtures::ideal_robot(2), 1.0, 1000, 200.0, 200.0, start);
    CHECK(std::abs(body.at.x) < 1e-9);
    CHECK(body.at.y == doctest::Approx(-200.0));
    CHECK(body.way_mm == doctest::Approx(200.0));
}

TEST_CASE("unequal wheels drive a circle of radius track/2 * (right+left)/(right-left), exact at any step") {
    const Robot robot = fixtures::ideal_robot(2);
    const double left = 90.0;
    const double right = 210.0;
    const double radius = 0.5 * robot.track_mm * (right + left) / (right - left);
    for (const double step_ms : {0.5, 1.0, 10.0, 100.0, 500.0}) {
        CAPTURE(step_ms);
        const Body body = driven(robot, step_ms, static_cast<int>(3000.0 / step_ms), left, right);
        const double turned = (right - left) / robot.track_mm * 3.0;
        CHECK(body.turned_rad == doctest::Approx(turned).epsilon(1e-12));
        CHECK(std::abs(body.at.x - radius * std::sin(turned)) < 1e-7);
        CHECK(std::abs(-body.at.y - radius * (1.0 - std::cos(turned))) < 1e-7); // left is up
        CHECK(length(body.ahead) == doctest::Approx(1.0).epsilon(1e-12));
        CHECK(std::abs(body.ahead.x - std::cos(turned)) < 1e-9);
    }
}

TEST_CASE("opposite wheels spin on the spot; one standing wheel is the middle of the turn") {
    const Robot robot = fixtures::ideal_robot(2);
    const Body spin = driven(robot, 1.0, 2000, -100.0, 100.0);
    CHECK(length(spin.at) < 1e-9);
    CHECK(spin.path_mm < 1e-9);
    const Body pivot = driven(robot, 1.0, 2000, 0.0, 100.0);
    const Vec2 left_wheel = from_robot(pivot.at, pivot.ahead, {0.0, 0.5 * robot.track_mm});
    CHECK(length(left_wheel - Vec2{0.0, -0.5 * robot.track_mm}) < 1e-8);
}

TEST_CASE("a robot that stops comes to stand, and stays where it is for ever") {
    Robot robot = fixtures::ideal_robot(2);
    robot.motors.lag_ms = 60.0;
    const Body moving = driven(robot, 1.0, 400, 180.0, 240.0);
    const Body stopped = driven(robot, 1.0, 4000, 0.0, 0.0, moving);
    const Body later = driven(robot, 1.0, 200000, 0.0, 0.0, stopped);
    CHECK(std::abs(stopped.left_mm_s) < 1e-18);
    CHECK_FALSE(std::abs(later.left_mm_s) > 0.0); // not next to nothing, which is slow to reckon with
    CHECK_FALSE(std::abs(later.right_mm_s) > 0.0);
    CHECK(length(later.at - stopped.at) < 1e-12);
    CHECK(std::abs(later.turned_rad - stopped.turned_rad) < 1e-15);
}

TEST_CASE("a wheel reaches 1 - 1/e of its speed after one time constant, and its way is the exact integral") {
    Robot robot = fixtures::ideal_robot(2);
    robot.motors.lag_ms = 60.0;
    for (const double step_ms : {1.0, 5.0, 20.0}) {
        CAPTURE(step_ms);
        const Body one = driven(robot, step_ms, static_cast<int>(60.0 / step_ms), 300.0, 300.0);
        CHECK(one.left_mm_s == doctest::Approx(300.0 * (1.0 - std::exp(-1.0))).epsilon(1e-12));
        CHECK(one.way_mm == doctest::Approx(300.0 * (0.060 - 0.060 * (1.0 - std::exp(-1.0)))).epsilon(1e-12));
    }
}

TEST_CASE("speeding up through a turn leads to the same place at any step") {
    Robot robot = fixtures::ideal_robot(2);
    for (const double lag_ms : {0.02, 3.0, 60.0, 700.0}) {
        robot.motors.lag_ms = lag_ms;
        const Body fine = driven(robot, 0.05, 16000, -90.0, 310.0);
        for (const double step_ms : {0.5, 1.0, 6.25, 100.0, 800.0}) {
            CAPTURE(lag_ms);
            CAPTURE(step_ms);
            const Body body = driven(robot, step_ms, static_cast<int>(800.0 / step_ms), -90.0, 310.0);
            CHECK(length(body.at - fine.at) < 1e-6);
            CHECK(length(body.ahead - fine.ahead) < 1e-9);
            CHECK(body.right_mm_s == doctest::Approx(fine.right_mm_s).epsilon(1e-12));
        }
    }
}

TEST_CASE("driving there and back ends where it began; the way is net, the path is not") {
    const Robot robot = fixtures::ideal_robot(2);
    Body body = driven(robot, 1.0, 700, 130.0, 170.0);
    body = driven(robot, 1.0, 700, -130.0, -170.0, body);
    CHECK(length(body.at) < 1e-9);
    CHECK(std::abs(body.way_mm) < 1e-9);
    CHECK(body.path_mm == doctest::Approx(210.0));
}

TEST_CASE("a motor clips its power, cuts the dead band and applies its gain") {
    Robot robot = fixtures::ideal_robot(2);
    robot.top_speed_mm_s = 400.0;
    robot.motors.dead_band_pct = 6.0;
    Motor weak;
    weak.gain = 0.9;
    weak.reversed = true;
    CHECK(settled_speed(robot, weak, 50.0) == doctest::Approx(180.0));
    CHECK(settled_speed(robot, weak, -250.0) == doctest::Approx(-360.0));
    CHECK(settled_speed(robot, weak, 5.9) == 0.0);
    CHECK(settled_speed(robot, weak, -5.9) == 0.0);
    CHECK(settled_speed(robot, weak, 6.0) == doctest::Approx(21.6));
}
