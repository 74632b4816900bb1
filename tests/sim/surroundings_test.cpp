/// What a robot tells of beyond its line sensors, read through looks of a run.
#include <cmath>
#include <functional>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/looks_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/trial/trip_result.hpp"

using namespace vast_turn;

namespace {

Robot robot_with_everything() {
    Robot robot = fixtures::ideal_robot(2);
    robot.range_sensor = RangeSensor{{40.0, 0.0}, 0.0, 900.0};
    ColourSensor colour;
    colour.name = "nose";
    colour.at_mm = {50.0, 0.0};
    robot.colour_sensors.push_back(colour);
    return robot;
}

/// For a second.
std::vector<Look> looks(const Course& course, const Robot& robot, double left_pct, double right_pct,
                        RunOptions options = {}) {
    options.time_limit_s = 1.0;
    return fixtures::looks_of(course, robot, left_pct, right_pct, options);
}

Course open_board() { return fixtures::board({"M 20,300 H 980"}); }

} // namespace

TEST_CASE("range: a wall ahead, a wall beside, a box that comes and goes, nothing") {
    Course course = open_board();
    const Robot robot = robot_with_everything();
    CHECK(looks(course, robot, 0, 0).front().range_mm == 900.0);
    course.walls.push_back({{640.0, 250.0}, {640.0, 350.0}});
    CHECK(looks(course, robot, 0, 0).front().range_mm == doctest::Approx(500.0)); // 640 - 100 - 40
    course.walls.back() = {{640.0, 310.0}, {640.0, 350.0}};
    CHECK(looks(course, robot, 0, 0).front().range_mm == 900.0);
    course.things.push_back({"can", {400.0, 300.0}, {60.0, 60.0}, 0.25, 0.5});
    const std::vector<Look> all = looks(course, robot, 0, 0);
    CHECK(all[24].range_mm == 900.0);
    CHECK(all[25].range_mm == doctest::Approx(230.0));
    CHECK(all[49].range_mm == doctest::Approx(230.0));
    CHECK(all[50].range_mm == 900.0);
}

TEST_CASE("range along a slanted ray is the way along it") {
    Course course = open_board();
    Robot robot = robot_with_everything();
    robot.range_sensor->heading_deg = 45.0; // to the left, so up
    robot.range_sensor->at_mm = {0.0, 0.0};
    course.walls.push_back({{0.0, 180.0}, {900.0, 180.0}});
    CHECK(looks(course, robot, 0, 0).front().range_mm == doctest::Approx(120.0 * std::sqrt(2.0)));
}

TEST_CASE("heading and wheels follow the motion exactly") {
    const Robot robot = robot_with_everything();
    const std::vector<Look> all = looks(open_board(), robot, -20.0, 20.0);
    const double speed = 0.2 * robot.top_speed_mm_s;
    const double t = all.back().clock_ms / 1000.0;
    CHECK(all.back().right_deg == doctest::Approx(speed * t / (pi * robot.wheel_mm) * 360.0));
    CHECK(all.back().left_deg == doctest::Approx(-all.back().right_deg));
    CHECK(all.back().heading_deg == doctest::Approx(to_degrees(2.0 * speed * t / robot.track_mm)));
    CHECK(all.front().heading_deg == 0.0);
}

TEST_CASE("the button is held when the options say so") {
    RunOptions options;
    options.button_s = {{0.1, 0.2}, {0.5, 0.51}};
    int held = 0;
    for (const Look& look : looks(open_board(), robot_with_everything(), 0, 0, options)) {
        held += look.button ? 1 : 0;
    }
    CHECK(held == 11);
}

TEST_CASE("a name is heard in one look, the first at or after its time") {
    RunOptions options;
    options.hears = {{"bell", 0.105}, {"other", 0.3}, {"bell", 0.6}};
    options.time_limit_s = 1.0;
    const Course course = open_board();
    const Robot robot = robot_with_everything();
    const Scene scene(course, robot);
    const Plan plan = fixtures::compiled("plan \"t\"\nsensors 2\nvar n = 0\nhabit a {\n heard(bell) -> set n = n + 1, "
                                         "tell(count, n)\n else -> still\n}\n");
    const Run run = drive(scene, plan, options);
    REQUIRE(run.events.size() == 2);
    CHECK(run.events[0].t_s == doctest::Approx(0.11));
    CHECK(run.events[1].t_s == doctest::Approx(0.6));
    CHECK(run.events[1].event.value == 2.0);

    Robot forgetful = robot;
    forgetful.lost_often = 0.6;
    const Scene other(course, forgetful);
    for (options.seed = 1; options.seed <= 12; ++options.seed) { // in the first look that does take place
        const Run heard = drive(other, plan, options);
        REQUIRE(heard.events.size() == 2);
        CHECK(heard.events[0].t_s >= 0.105);
        CHECK(heard.events[1].t_s >= 0.6 - 1e-9);
    }
}

TEST_CASE("each source tells the turn, a compass in the course's frame; the best one is asked without a name") {
    Robot robot = robot_with_everything();
    robot.gyro.fitted = robot.compass.fitted = true;
    Course course = open_board();
    course.starts[0].pose.heading_deg = 30.0;
    const Look all = looks(course, robot, -20.0, 20.0).back();
    CHECK(all.heading_by_gyro_deg > 10.0);
    CHECK(all.heading_by_wheels_deg == doctest::Approx(all.heading_by_gyro_deg));
    CHECK(all.heading_by_compass_deg == doctest::Approx(30.0 + all.heading_by_gyro_deg));
    CHECK(all.heading_deg == all.heading_by_gyro_deg);
    robot.gyro.fitted = false;
    const Look compass = looks(course, robot, -20.0, 20.0).back();
    CHECK(compass.heading_deg == compass.heading_by_compass_deg);
    CHECK(compass.heading_by_gyro_deg == 0.0);
    robot.encoders.fitted = robot.compass.fitted = false;
    const Look blind = looks(course, robot, -20.0, 20.0).back();
    CHECK(blind.left_deg == 0.0);
    CHECK(blind.way_mm == 0.0);
    CHECK(blind.heading_deg == 0.0);
}

TEST_CASE("a plan that asks for what the robot lacks is refused by name") {
    const Course course = open_board();
    const auto refused = [&](const std::string& condition, bool encoders) {
        Robot robot = robot_with_everything();
        robot.encoders.fitted = encoders;
        const Scene scene(course, robot);
        const Plan plan = fixtures::compiled("plan \"t\"\nsensors 2\nmarkers amber\nhabit a {\n " + condition +
                                             " -> still\n else -> keep\n}\n");
        return fixtures::message_of([&] { drive(scene, plan); });
    };
    CHECK(refused("amber at nose", true).empty());
    CHECK(refused("amber at left", true).find("a marker at left") != std::string::npos);
    CHECK(refused("turned by gyro > 3deg", true).find("a turn by gyro") != std::string::npos);
    CHECK(refused("turned by compass > 3deg", true).find("a turn by compass") != std::string::npos);
    CHECK(refused("turned > 3deg", true).empty());
    CHECK(refused("turned > 3deg", false).find("a turn,") != std::string::npos);
    CHECK(refused("travelled > 3mm", false).find("a way or a wheel's turn") != std::string::npos);
    CHECK(refused("elapsed > 3ms", false).empty());
}

TEST_CASE("a marker is seen where its plate lies, under the name that the plan gives it") {
    const Course course = load_course("data/fern-house/mist-loop.course.toml");
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    const Scene scene(course, robot);
    RunOptions options;
    options.button_s = {{0.0, 1.0}};
    const Run run = drive(scene, load_plan("data/fern-house/plates.plan"), options);
    int seen = 0;
    for (const LookRecord& look : run.looks) {
        const Vec2 nose = from_robot(look.at, direction(look.heading_deg), robot.colour_sensors[0].at_mm);
        for (unsigned k = 0; k < 3; ++k) {
            const Marker& marker = course.markers[k]; // amber, teal, magenta as in the plan
            const Vec2 off = nose - marker.at;
            const bool along_y = marker.heading_deg > 45.0;
            const double along = std::abs(along_y ? off.y : off.x) - 0.5 * marker.length_mm;
            const double across = std::abs(along_y ? off.x : off.y) - 0.5 * marker.across_mm;
            const double outside = std::max(along, across);
            if (std::abs(outside) > 4.0) { // at the rim the spot sees both
                CHECK((((look.markers >> k) & 1U) != 0) == (outside < 0.0));
            }
        }
        seen += look.markers != 0 ? 1 : 0;
    }
    CHECK(seen > 20);
}

TEST_CASE("the trip with button, thing and plates is driven as told, and its trace replays") {
    const CourseFile file = load_course_file("data/fern-house/mist-round.course.toml");
    const Course& course = file.course;
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    const Plan plan = load_plan("data/fern-house/plates.plan");
    const Scene scene(course, robot);
    for (std::uint64_t seed = 1; seed <= 5; ++seed) {
        RunOptions options;
        options.seed = seed;
        options.keep_told = true;
        const TripResult result = take_trip(scene, plan, file.trips.at(0), options);
        CHECK(result.passed);
        const std::vector<LoggedLook> log =
            parse_log(trace_csv(result.run, robot, &plan), "trace", array_reader(robot, result.run.calibration), {},
                      false, asked_names(plan));
        const LogCheck check = check_log(plan, log);
        CHECK(check.compared == log.size());
        CHECK_FALSE(check.first.has_value());
    }
}

TEST_CASE("turned, rolled, heading and battery: since the block began, never negative, mirrored as sides are") {
    const Plan plan = fixtures::compiled(
        "plan \"t\"\nsensors 1\nhabit a {\n turned > 30deg or rolled(right) > 90deg -> become b\n"
        " heading < -5deg mirrored -> pivot(left, 10)\n battery < 20 -> still\n else -> ahead(1)\n}\n"
        "habit b {\n turned > 30deg -> halt\n else -> ahead(2)\n}\n");
    Mind mind(plan);
    Answer answer;
    double clock = 0.0;
    const auto asked = [&](double heading, double right, double battery) {
        Look look = fixtures::look(".", clock += 10.0);
        look.heading_deg = heading;
        look.right_deg = right;
        look.battery_pct = battery;
        mind(look, answer);
        return answer.left_pct * 100.0 + answer.right_pct;
    };
    CHECK(asked(0.0, 0.0, 90.0) == 101.0);
    CHECK(asked(-10.0, 0.0, 90.0) == 10.0);  // left wheel stands
    CHECK(asked(10.0, 0.0, 90.0) == 1000.0); // the twin: -heading < -5deg
    CHECK(asked(0.0, 0.0, 19.0) == 0.0);
    CHECK(asked(0.0, -91.0, 90.0) == 202.0); // rolled back counts too; b begins
    CHECK(asked(-31.0, 0.0, 90.0) == 0.0);
    CHECK(answer.halted);
}
