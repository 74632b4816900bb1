/// Gyros that settle and wander, compasses near iron, encoders that lose counts, line sensors that take colours.

#include <algorithm>
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

std::vector<Look> looks_from(const Course& course, const Robot& robot, double left_pct, double right_pct, Pose pose,
                             double seconds, std::uint64_t seed = 1) {
    RunOptions options;
    options.seed = seed;
    options.pose = pose;
    options.time_limit_s = seconds;
    options.lost_after_s = options.off_course_mm = 9000.0;
    return fixtures::looks_of(course, robot, left_pct, right_pct, options);
}

Course floor_with_tape() { return fixtures::board({"M 20,300 H 980"}); }
const Pose at_start{{100.0, 300.0}, 0.0};

} // namespace

TEST_CASE("a gyro settles after the start: a drift that dies away adds its integral to the heading") {
    const Course course = floor_with_tape();
    Robot robot = fixtures::ideal_robot(1);
    robot.gyro.fitted = true;
    robot.gyro.settling_deg_s = 4.0;
    robot.gyro.settles_ms = 300.0;
    for (const Look& look : looks_from(course, robot, 0, 0, at_start, 2.0)) {
        const double t_s = look.clock_ms / 1000.0;
        CHECK(look.heading_by_gyro_deg == doctest::Approx(4.0 * 0.3 * (1.0 - std::exp(-t_s / 0.3))));
    }
    robot.gyro.settles_ms = 0.0;
    CHECK(looks_from(course, robot, 0, 0, at_start, 2.0).back().heading_by_gyro_deg == 0.0);
    CHECK(on_day(robot, {{Quantity::gyro_settling, 0, 1.5}}).gyro.settling_deg_s == doctest::Approx(5.5));
}

TEST_CASE("a gyro's drift wanders: a random walk, so far after a minute, other in each run") {
    const Course course = floor_with_tape();
    Robot robot = fixtures::ideal_robot(1);
    robot.look_ms = 50.0;
    robot.gyro.fitted = true;
    robot.gyro.wander_deg_s = 0.5;
    constexpr int many = 150;
    double drift_squares = 0.0;
    double heading_squares = 0.0;
    for (std::uint64_t seed = 1; seed <= many; ++seed) {
        const std::vector<Look> looks = looks_from(course, robot, 0, 0, at_start, 60.0, seed);
        const double last = looks.back().heading_by_gyro_deg;
        const double drift = (last - looks[looks.size() - 2].heading_by_gyro_deg) / 0.05;
        drift_squares += drift * drift;
        heading_squares += last * last;
    }
    CHECK(std::sqrt(drift_squares / many) == doctest::Approx(0.5).epsilon(0.15));
    // The integral of a random walk: deviation * t / sqrt(3).
    CHECK(std::sqrt(heading_squares / many) == doctest::Approx(0.5 * 60.0 / std::sqrt(3.0)).epsilon(0.15));
    CHECK(looks_from(course, robot, 0, 0, at_start, 3.0).back().heading_by_gyro_deg ==
          looks_from(course, robot, 0, 0, at_start, 3.0).back().heading_by_gyro_deg);
}

TEST_CASE("iron turns a compass aside: to it across the earth's field, by the cube of the distance") {
    const std::vector<Iron> one{{{500.0, 200.0}, 0.5}};
    // 100 mm below it on the board: the field of the iron points up, that of the earth to the right.
    CHECK(turned_aside_deg(one, {500.0, 300.0}) == doctest::Approx(to_degrees(std::atan(0.5))));
    CHECK(turned_aside_deg(one, {500.0, 400.0}) == doctest::Approx(to_degrees(std::atan(0.5 / 8.0))));
    CHECK(turned_aside_deg(one, {400.0, 200.0}) == doctest::Approx(0.0)); // along the earth's
    CHECK(turned_aside_deg({{{500.0, 200.0}, -0.5}}, {500.0, 300.0}) == doctest::Approx(-to_degrees(std::atan(0.5))));
    CHECK(std::isfinite(turned_aside_deg(one, {500.0, 200.0})));
    CHECK(turned_aside_deg({}, {1.0, 2.0}) == 0.0);

    Course course = floor_with_tape();
    Robot robot = fixtures::ideal_robot(1);
    robot.compass.fitted = true;
    course.irons = one;
    const std::vector<Look> looks = looks_from(course, robot, 50, 50, {{300.0, 300.0}, 0.0}, 1.0);
    double most = 0.0;
    for (const Look& look : looks) {
        const double told = -turned_aside_deg(one, {300.0 + look.way_mm, 300.0});
        CHECK(look.heading_by_compass_deg == doctest::Approx(told));
        most = std::max(most, std::abs(told));
    }
    CHECK(most > 26.0); // it came by
}

TEST_CASE("iron in course files: read, written and read again") {
    const std::string head = "name = \"c\"\nsize_mm = [400, 300]\n[[tape]]\npath = \"M 20,150 H 380\"\n";
    const Course course = parse_course(head + "[[iron]]\nat_mm = [90, 40]\nstrength = 0.7\n", "c");
    REQUIRE(course.irons.size() == 1);
    CHECK(course.irons[0].strength == 0.7);
    const Course again = parse_course(course_toml(course), "again");
    REQUIRE(again.irons.size() == 1);
    CHECK(again.irons[0].at == course.irons[0].at);
    CHECK(message_of([&] {
              parse_course(head + "[[iron]]\nat_mm = [90, 40]\nstrength = 90\n", "c");
          }).find("`strength` is 90, expected -20 to 20") != std::string::npos);
}

TEST_CASE("encoders lose counts: each by itself, forwards and backwards, of many as of few") {
    const Course course = floor_with_tape();
    for (const double counts : {90.0, 20000.0}) {
        for (const double power : {40.0, -40.0}) {
            CAPTURE(counts);
            CAPTURE(power);
            Robot robot = fixtures::ideal_robot(1);
            robot.encoders.counts = counts;
            const std::vector<Look> all = looks_from(course, robot, power, power, {{500.0, 300.0}, 0.0}, 2.0);
            robot.encoders.lost = 0.1;
            double sum = 0.0;
            std::set<double> told;
            constexpr int many = 40;
            for (std::uint64_t seed = 1; seed <= many; ++seed) {
                const std::vector<Look> some =
                    looks_from(course, robot, power, power, {{500.0, 300.0}, 0.0}, 2.0, seed);
                sum += some.back().left_deg / all.back().left_deg;
                told.insert(some.back().left_deg);
                CHECK(std::abs(std::remainder(some.back().left_deg, 360.0 / counts)) < 1e-6);
            }
            CHECK(sum / many == doctest::Approx(0.9).epsilon(0.01));
            CHECK(told.size() > 5);
        }
    }
    CHECK(on_day(fixtures::ideal_robot(1), {{Quantity::counts_lost, 0, 0.02}}).encoders.lost == doctest::Approx(0.02));
}

TEST_CASE("a line sensor that takes colours too tells what it told before while it is busy with them") {
    const Course course = fixtures::board({"M 20,300 H 980", "M 400,20 V 580"}, 40.0);
    Robot robot = fixtures::ideal_robot(3, 30.0);
    const Pose pose{{250.0, 260.0}, 0.0};
    const std::vector<Look> sound = looks_from(course, robot, 50, 50, pose, 1.2);
    ColourSensor nose;
    nose.name = "nose";
    nose.line_sensor = 1;
    nose.at_mm = robot.sensors[1].at_mm;
    nose.rate_ms = 80.0;
    nose.blind_ms = 30.0;
    robot.colour_sensors.push_back(nose);
    const std::vector<Look> busy = looks_from(course, robot, 50, 50, pose, 1.2);
    REQUIRE(busy.size() == sound.size());
    int differ = 0;
    for (std::size_t i = 1; i < busy.size(); ++i) {
        CHECK(busy[i].raw[0] == sound[i].raw[0]);
        CHECK(busy[i].raw[2] == sound[i].raw[2]);
        const bool is_busy = i % 8 < 3; // looks of 10 ms
        CHECK(busy[i].raw[1] == (is_busy ? busy[i - 1].raw[1] : sound[i].raw[1]));
        differ += busy[i].raw[1] != sound[i].raw[1] ? 1 : 0;
    }
    CHECK(differ > 0);
}

TEST_CASE("an exposure smears plates: the mean of the colours that went by") {
    const Course course =
        parse_course("name = \"c\"\nsize_mm = [1000, 600]\n[[tape]]\npath = \"M 20,300 H 980\"\nwidth_mm = 60\n"
                     "[palette]\namber = \"#E0A030\"\n[[marker]]\ncolour = \"amber\"\nat_mm = [400, 300]\n"
                     "size_mm = [12, 60]\n[[start]]\nname = \"s\"\nat_mm = [100, 300]\nheading_deg = 0\n",
                     "c");
    Robot robot = fixtures::ideal_robot(1);
    robot.look_ms = 1.0;
    ColourSensor nose;
    nose.name = "nose";
    nose.at_mm = {50.0, 0.0};
    nose.spot_mm = 3.0;
    robot.colour_sensors.push_back(nose);
    double middle_ms = 0.0; // of the looks that see it
    const auto seen = [&] {
        int count = 0;
        double sum = 0.0;
        for (const Look& look : looks_from(course, robot, 60, 60, {{250.0, 300.0}, 0.0}, 1.0)) {
            count += look.markers != 0 ? 1 : 0;
            sum += look.markers != 0 ? look.clock_ms : 0.0;
        }
        middle_ms = sum / std::max(1, count);
        return count;
    };
    CHECK(seen() > 20); // 12 mm at a quarter of a metre a second
    const double sharp_ms = middle_ms;
    robot.colour_sensors[0].exposure_ms = 16.0;
    CHECK(seen() > 20);
    CHECK(middle_ms - sharp_ms == doctest::Approx(8.0).epsilon(0.2)); // half of the exposure later
    robot.colour_sensors[0].exposure_ms = 400.0;
    CHECK(seen() == 0); // 12 of 100 mm
}

TEST_CASE("a delay that varies: each answer comes anything up to so much later, none before another") {
    const Course course = floor_with_tape();
    Robot robot = fixtures::ideal_robot(1);
    robot.look_ms = 20.0;
    robot.delay_ms = 2.0;
    const auto way_to = [&](double varies_ms, std::uint64_t seed) {
        robot.delay_varies_ms = varies_ms;
        return looks_from(course, robot, 50, 50, at_start, 0.4, seed).back().way_mm;
    };
    const double sharp = way_to(0.0, 1);
    std::set<double> ways;
    double mean_late_ms = 0.0;
    constexpr int many = 200;
    for (std::uint64_t seed = 1; seed <= many; ++seed) {
        const double way = way_to(12.0, seed);
        CHECK(way <= sharp + 1e-9); // only the first answer matters here: it drives off later
        ways.insert(std::round(1000.0 * way));
        mean_late_ms += 1000.0 * (sharp - way) / (0.5 * robot.top_speed_mm_s) / many;
    }
    CHECK(ways.size() == 12); // whole steps of a millisecond, 0 to 11
    CHECK(mean_late_ms == doctest::Approx(5.5).epsilon(0.12));
    CHECK(on_day(robot, {{Quantity::delay_varies, 0, 3.0}}).delay_varies_ms == doctest::Approx(15.0));
}

TEST_CASE("all of it is read from a robot's file, and refused where it cannot be") {
    const std::string head = "name = \"r\"\ntrack_mm = 104\nwheel_mm = 41\ntop_speed_mm_s = 390\n";
    const std::string sensors =
        "[[sensor]]\nat_mm = [50, 9]\nheight_mm = 6\nraised_mm = 3\n[[sensor]]\nat_mm = [50, -9]\n";
    const Robot robot =
        parse_robot(head + "delay_varies_ms = 4\n" + sensors +
                        "[[colour_sensor]]\nname = \"nose\"\nline_sensor = 2\nrate_ms = 60\nblind_ms = 25\n"
                        "exposure_ms = 7\n[gyro]\nwander_deg_s = 0.2\nsettling_deg_s = 1.5\n"
                        "settles_ms = 700\n[encoders]\ncounts = 360\nlost = 0.01\n",
                    "r");
    CHECK(robot.delay_varies_ms == 4.0);
    CHECK(robot.sensors[0].height_mm == doctest::Approx(9.0));
    CHECK(robot.sensors[0].spot_mm == doctest::Approx(9.0));
    CHECK(robot.sensors[0].gain == doctest::Approx(1.0 / 2.25));
    CHECK(robot.sensors[1].height_mm == 0.0);
    CHECK(robot.colour_sensors[0].line_sensor == std::size_t{1});
    CHECK(robot.colour_sensors[0].at_mm == Vec2{50.0, -9.0});
    CHECK(robot.colour_sensors[0].blind_ms == 25.0);
    CHECK(robot.colour_sensors[0].exposure_ms == 7.0);
    CHECK(robot.gyro.settles_ms == 700.0);
    CHECK(robot.encoders.lost == 0.01);
    const auto fault = [&](const std::string& more) {
        return message_of([&] { parse_robot(head + sensors + more, "r"); });
    };
    const std::string nose = "[[colour_sensor]]\nname = \"n\"\n";
    CHECK(fault(nose + "line_sensor = 3\n").find("there is no line sensor 3") != std::string::npos);
    CHECK(fault(nose + "line_sensor = 1\nblind_ms = 20\n").find("would never see the line") != std::string::npos);
    CHECK(fault(nose).find("`at_mm` is missing") != std::string::npos);
    CHECK(fault("[encoders]\nlost = 0.1\n").find("give counts") != std::string::npos);
    CHECK(message_of([&] {
              parse_robot(head + "[[sensor]]\nat_mm = [50, 0]\nraised_mm = 2\n", "r");
          }).find("give height_mm") != std::string::npos);
    CHECK(message_of([&] {
              parse_robot(head + "[[sensor]]\nat_mm = [50, 0]\nheight_mm = 5\nraised_mm = -5\n", "r");
          }).find("must stay above the floor") != std::string::npos);
}
