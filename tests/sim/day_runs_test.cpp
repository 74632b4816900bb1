/// Runs on other days than ideal ones.

#include <cmath>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/paint/surface.hpp"
#include "vast_turn/robot/day.hpp"

using namespace vast_turn;

namespace {

/// Turns and drives, whatever it sees.
Run driven(const Robot& robot, double left_pct, double right_pct, double seconds, const RunOptions& given = {}) {
    static const Course course = fixtures::board({"M 60,300 H 940"});
    const Scene scene(course, robot);
    RunOptions options = given;
    options.time_limit_s = seconds;
    options.keep_told = true;
    return drive(scene, Decide([=](const Look&, Answer& out) {
                     out.left_pct = left_pct;
                     out.right_pct = right_pct;
                 }),
                 options);
}

} // namespace

TEST_CASE("wheels that scrub turn the robot less, and its encoders believe that it turned as much") {
    Robot robot = fixtures::ideal_robot(3);
    robot.gyro.fitted = true;
    const Run plain = driven(robot, -20.0, 20.0, 1.0);
    robot.skid = 1.25;
    const Run scrubbing = driven(robot, -20.0, 20.0, 1.0);
    CHECK(scrubbing.turned_deg == doctest::Approx(plain.turned_deg / 1.25));
    CHECK(scrubbing.told.back().heading_by_wheels_deg == doctest::Approx(plain.told.back().heading_by_wheels_deg));
    CHECK(scrubbing.told.back().heading_by_gyro_deg == doctest::Approx(plain.told.back().heading_by_gyro_deg / 1.25));
    CHECK(scrubbing.told.back().left_deg == doctest::Approx(plain.told.back().left_deg));
}

TEST_CASE("a smaller wheel goes less far for the same turns: the robot bends, the encoders know nothing of it") {
    Robot robot = fixtures::ideal_robot(3);
    robot.motors.left.wheel = 0.95;
    const Run run = driven(robot, 30.0, 30.0, 1.0);
    const double speed = 0.3 * robot.top_speed_mm_s;
    CHECK(run.turned_deg == doctest::Approx(to_degrees(0.05 * speed / robot.track_mm))); // closed form: it bends left
    CHECK(run.told.back().heading_by_wheels_deg == doctest::Approx(0.0));
    const double looks_s = robot.look_ms / 1000.0 * static_cast<double>(run.told.size() - 1);
    CHECK(run.told.back().way_mm == doctest::Approx(speed * looks_s));
    CHECK(run.told.back().left_deg == doctest::Approx(run.told.back().right_deg));
}

TEST_CASE("a gyro with scale and drift tells what they say") {
    Robot robot = fixtures::ideal_robot(3);
    robot.gyro.fitted = true;
    robot.gyro.scale = 1.02;
    robot.gyro.drift_deg_s = -0.7;
    const Run run = driven(robot, -15.0, 15.0, 2.0);
    const Look& last = run.told.back();
    CHECK(last.heading_by_gyro_deg ==
          doctest::Approx(1.02 * last.heading_by_wheels_deg - 0.7 * last.clock_ms / 1000.0));
}

TEST_CASE("a day is driven with its robot, its start and its noise; the ideal day is the robot as described") {
    Robot robot = fixtures::ideal_robot(3);
    robot.sensors[1].noise = 6.0;
    robot.variation = {{Quantity::left_motor, {Scatter::Kind::about, 1.0, 0.05}},
                       {Quantity::aside, {Scatter::Kind::even, 0.0, 0.0, -4.0, 4.0}}};
    RunOptions options;
    options.seed = 9;
    const Run ideal = driven(robot, 30.0, 30.0, 1.0, options);
    CHECK(ideal.looks.front().at.y == doctest::Approx(300.0));
    CHECK(ideal.turned_deg == doctest::Approx(0.0));
    for (std::uint64_t day = 1; day <= 5; ++day) {
        options.day = day;
        const Run run = driven(robot, 30.0, 30.0, 1.0, options);
        CHECK(run.day == day);
        CHECK(run.seed == 9);
        const std::vector<DayValue> values = draw_day(robot.variation, 9, day, 3);
        CHECK(run.looks.front().at.y == doctest::Approx(300.0 - values[1].value)); // to the left is up
        CHECK(run.turned_deg ==
              doctest::Approx(to_degrees((1.0 - values[0].value) * 0.3 * robot.top_speed_mm_s / robot.track_mm)));
        RunOptions set = options; // the same values given one by one
        set.day = 0;
        set.set = values;
        set.seed = 9 + day - 1;
        const Run again = driven(robot, 30.0, 30.0, 1.0, set);
        CHECK(again.end_at == run.end_at);
        CHECK(again.looks.back().raw == run.looks.back().raw);
    }
    CHECK(nth_run(options, 3).day == options.day + 3);
    options.day = 0;
    CHECK(nth_run(options, 3).seed == 12);
    options.again = 2; // noise of another seed
    RunOptions other;
    other.seed = 11;
    CHECK(driven(robot, 30.0, 30.0, 1.0, options).looks.back().raw ==
          driven(robot, 30.0, 30.0, 1.0, other).looks.back().raw);
}

TEST_CASE("a quantity that is set stands in place of the day's own, and of what was set before") {
    Robot robot = fixtures::ideal_robot(3);
    robot.variation = {{Quantity::left_motor, {.kind = Scatter::Kind::even, .from = 0.7, .to = 0.8}},
                       {Quantity::right_motor, {.kind = Scatter::Kind::one_of, .values = {0.9}}}};
    Robot as_set = fixtures::ideal_robot(3);
    as_set.motors.left.gain = 0.95;
    as_set.motors.right.gain = 0.9;
    RunOptions options;
    options.day = 3;
    options.set = {{Quantity::left_motor, 0, 0.5}, {Quantity::left_motor, 0, 0.95}};
    const Run run = driven(robot, 40.0, 40.0, 1.0, options);
    const Run wanted = driven(as_set, 40.0, 40.0, 1.0);
    CHECK(run.way_mm == doctest::Approx(wanted.way_mm));
    CHECK(run.turned_deg == doctest::Approx(wanted.turned_deg));
}

TEST_CASE("a robot in other light than it was calibrated in reads another share, and a compass the true heading") {
    Robot robot = fixtures::ideal_robot(3);
    robot.compass.fitted = true;
    RunOptions options;
    options.set = {{Quantity::light, 0, 0.8}, {Quantity::turned, 0, 5.0}};
    const Run run = driven(robot, 0.0, 0.0, 0.1, options);
    const Run ideal = driven(robot, 0.0, 0.0, 0.1);
    CHECK(run.looks[0].raw[0] == doctest::Approx(0.8 * ideal.looks[0].raw[0]).epsilon(0.01));
    CHECK(run.calibration.sensors[0].floor_counts == ideal.calibration.sensors[0].floor_counts);
    CHECK(run.told[0].heading_by_compass_deg == doctest::Approx(ideal.told[0].heading_by_compass_deg + 5.0));
}

TEST_CASE("a colour sensor's noise turns a colour into its neighbour now and then") {
    Course course = fixtures::board({"M 60 300 H 940"}, 19.0);
    course.palette = {{"amber", {214, 132, 40}}, {"rust", {204, 122, 40}}};
    course.markers.push_back({"amber", {214, 132, 40}, {150.0, 300.0}, 60.0, 60.0, 0.0, false, ""});
    paint_surface(course, 1.0);
    Robot robot = fixtures::ideal_robot(3);
    robot.colour_sensors.push_back({"", {50.0, 0.0}});
    const auto reddish = [&](double noise) {
        robot.colour_sensors[0].noise = noise;
        const Scene scene(course, robot);
        RunOptions options;
        options.time_limit_s = 2.0;
        options.keep_told = true;
        const Run run = drive(scene, Decide([](const Look&, Answer&) {}), options);
        int rust = 0;
        for (const Look& look : run.told) {
            rust += (look.markers & 2U) != 0 ? 1 : 0;
        }
        return rust;
    };
    CHECK(reddish(0.0) == 0);
    CHECK(reddish(120.0) > 20); // of 200
    CHECK(reddish(120.0) == reddish(120.0));
}

TEST_CASE("late answers reach the wheels later, and those behind them wait; lost looks change nothing") {
    Robot robot = fixtures::ideal_robot(3); // no lag, no delay: a wheel's speed is the last answer's
    const auto to_and_fro = [&](std::uint64_t seed) {
        static const Course course = fixtures::board({"M 60,300 H 940"});
        const Scene scene(course, robot);
        RunOptions options;
        options.seed = seed;
        options.time_limit_s = 4.0;
        return drive(scene, Decide([n = 0](const Look&, Answer& out) mutable {
                         out.left_pct = out.right_pct = n++ % 2 == 0 ? 40.0 : -40.0;
                     }),
                     options);
    };
    CHECK(to_and_fro(1).looks_done == 400);
    robot.lost_often = 0.2;
    const Run lossy = to_and_fro(1);
    CHECK(lossy.looks_done == doctest::Approx(320).epsilon(0.1));
    CHECK(to_and_fro(1).looks_done == lossy.looks_done);
    CHECK(to_and_fro(2).end_at != lossy.end_at);
    for (const LookRecord& look : lossy.looks) { // a look is where it would have been, or is not
        CHECK(std::abs(100.0 * look.t_s - std::round(100.0 * look.t_s)) < 1e-6);
    }
    robot.lost_often = 0.0;
    robot.late_often = 0.9; // one after another they wait for the first that is late, so it is much like a longer delay
    robot.late_ms = 7.0;
    const Run late = to_and_fro(1);
    CHECK(late.looks_done == 400);
    CHECK(late.end_at != to_and_fro(2).end_at);
    robot.late_ms = 0.0;
    const Run in_time = to_and_fro(1);
    robot.late_often = 0.0;
    CHECK(in_time.end_at == to_and_fro(1).end_at);
}

TEST_CASE("a course that is other: faded tape, faded plates, things that come and go later") {
    const Course course = fixtures::board({"M 60,300 H 940"});
    Robot robot = fixtures::ideal_robot(3);
    const auto first_look = [](const Course& board, const Robot& which, const std::vector<DayValue>& values) {
        const Scene scene(board, which);
        RunOptions options;
        options.set = values;
        options.keep_told = true;
        options.time_limit_s = 0.2;
        return drive(scene, Decide([](const Look&, Answer&) {}), options).told.front();
    };
    const Look fresh = first_look(course, robot, {});
    const Look faded = first_look(course, robot, {{Quantity::line_faded, 0, 0.4}});
    const Look bare = first_look(fixtures::board({"M 60,120 H 940"}), robot, {});
    CHECK(faded.raw[1] == doctest::Approx(fresh.raw[1] + 0.4 * (bare.raw[1] - fresh.raw[1])).epsilon(0.01));
    CHECK(fresh.raw[1] + 100 < bare.raw[1]);

    const Course plate =
        parse_course("name = \"c\"\nsize_mm = [600, 400]\n[[tape]]\npath = \"M 20,200 H 580\"\nwidth_mm = 19\n"
                     "[palette]\namber = \"#E0A030\"\n[[marker]]\ncolour = \"amber\"\nat_mm = [150, 200]\n"
                     "[[start]]\nname = \"s\"\nat_mm = [100, 200]\nheading_deg = 0\n",
                     "c");
    ColourSensor nose;
    nose.name = "nose";
    nose.at_mm = {50.0, 0.0};
    robot.colour_sensors.push_back(nose);
    CHECK(first_look(plate, robot, {{Quantity::plates_faded, 0, 0.3}}).markers == 1);
    CHECK(first_look(plate, robot, {{Quantity::plates_faded, 0, 0.8}}).markers == 0); // nearer to the floor's colour

    Course with_can = fixtures::board({"M 60,300 H 940"});
    Thing can;
    can.name = "can";
    can.at = {400.0, 300.0};
    can.size_mm = {60.0, 60.0};
    can.until_s = 0.5;
    with_can.things.push_back(can);
    robot.range_sensor = RangeSensor{{40.0, 0.0}, 0.0, 900.0};
    const auto gone_at = [&](double later_s) {
        const Scene scene(with_can, robot);
        RunOptions options;
        options.set = {{Quantity::things_later, 0, later_s}};
        options.keep_told = true;
        options.time_limit_s = 2.0;
        const Run run = drive(scene, Decide([](const Look&, Answer&) {}), options);
        for (const Look& look : run.told) {
            if (look.range_mm > 800.0) {
                return look.clock_ms / 1000.0;
            }
        }
        return -1.0;
    };
    CHECK(gone_at(0.0) == doctest::Approx(0.5));
    CHECK(gone_at(0.7) == doctest::Approx(1.2));
    CHECK(gone_at(-0.3) == doctest::Approx(0.2));
}
