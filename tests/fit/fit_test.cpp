// What a fit is told, what it cannot be told, and logs of another robot.
#include <algorithm>
#include <cmath>

#include <doctest/doctest.h>

#include "fit/dead_band.hpp"
#include "support/fixtures.hpp"
#include "support/open_floor.hpp"
#include "support/rounds.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/fit/fit.hpp"
#include "vast_turn/fit/telling_drive.hpp"
#include "vast_turn/formats/read/drive_log_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

namespace {

Robot fern_robot(const std::string& name) { return load_robot("data/fern-house/" + name + ".robot.toml"); }

/// What a robot told of the drive that tells most.
DriveLog telling_log(const Robot& robot) {
    const Course course = fixtures::open_floor();
    const Plan plan = fixtures::compiled(telling_drive(robot));
    RunOptions options;
    options.keep_told = true;
    options.lost_after_s = 1000.0;
    options.off_course_mm = 1e5;
    const Run run = drive(Scene(course, robot), plan, options);
    CAPTURE(run.ended_because);
    CHECK(name_of(run.ending) == std::string("halt"));
    return parse_drive_log(trace_csv(run, robot, &plan), "told.csv", robot);
}

bool is_untold(const FitReport& report, const std::string& words) {
    for (const UntoldNumber& one : report.untold) {
        if (one.words == words) {
            return true;
        }
    }
    return false;
}

bool has_doubt(const FitReport& report, const std::string& part) {
    for (const std::string& doubt : report.doubts) {
        if (doubt.find(part) != std::string::npos) {
            return true;
        }
    }
    return false;
}

} // namespace

TEST_CASE("fit: the drive that tells tells motors, dead band, track and noise") {
    const Robot filed = fern_robot("sprig-3");
    Robot truth = filed;
    truth.top_speed_mm_s = 377.0;
    truth.motors.left.gain = 0.94;
    truth.motors.right.gain = 0.91;
    truth.motors.lag_ms = 61.0;
    truth.motors.dead_band_pct = 8.3;
    truth.delay_ms = 7.0;
    truth.encoders.counts = 720.0;
    truth.motors.left.wheel = 1.006;
    truth.motors.right.wheel = 0.994;
    Robot sought = filed;
    sought.motors.left.gain = 0.94; // the stronger motor's stays as it is: a top speed means what it meant
    sought.motors.right.gain = 0.93;
    const FitReport report = fit(sought, {telling_log(truth)});
    CHECK(report.is_of_that_robot());
    const std::pair<const char*, double> numbers[] = {{"top_speed_mm_s", 377.0},
                                                      {"motors.right.gain", 0.91},
                                                      {"motors.lag_ms", 61.0},
                                                      {"motors.dead_band_pct", 8.3},
                                                      {"motors.left.wheel", 1.006},
                                                      {"track_mm", filed.track_mm},
                                                      {"sensor.2.noise", filed.sensors[1].noise}};
    for (const auto& number : numbers) {
        const std::string key = number.first;
        CAPTURE(key);
        const FittedNumber* found = report.find(key);
        REQUIRE(found != nullptr);
        CHECK(found->low <= found->value);
        CHECK(found->value <= found->high);
        CHECK(found->value == doctest::Approx(number.second).epsilon(0.05));
    }
    CHECK(report.robot.top_speed_mm_s == doctest::Approx(377.0).epsilon(0.001));
    CHECK(report.robot.delay_ms == doctest::Approx(7.0).epsilon(0.05));
    CHECK(is_untold(report, "scale of the gyro"));
    CHECK(is_untold(report, "size of both wheels"));
}

TEST_CASE("fit: several logs tell together; what none tells is said with what would tell it") {
    if (fixtures::sanitized()) {
        return; // the same memory as above
    }
    Robot robot = fern_robot("sprig-2");
    robot.gyro.fitted = false;
    DriveLog log = telling_log(robot);
    const FitReport both = fit(robot, {log, log});
    CHECK(both.looks == 2 * log.looks());
    CHECK(both.find("top_speed_mm_s")->value == doctest::Approx(robot.top_speed_mm_s).epsilon(1e-4));
    CHECK(both.find("track_mm") == nullptr);
    CHECK(is_untold(both, "track"));
    log.left_deg.clear(); // no encoder: nothing of the motors
    const FitReport blind = fit(robot, {log});
    CHECK(blind.find("top_speed_mm_s") == nullptr);
    CHECK(blind.find("sensor.1.noise") != nullptr);
    CHECK(is_untold(blind, "motors, dead band, delay and track"));
    log.right_pct.pop_back();
    CHECK_THROWS_AS(fit(robot, {log}), InputError);
    const std::vector<DriveLog> far_too_many(52, telling_log(robot));
    CHECK_THROWS_AS(fit(robot, far_too_many), InputError);
    DriveLog endless = telling_log(robot);
    endless.left_deg[700] = 1e200;
    CHECK_THROWS_AS(fit(robot, {endless}), InputError);
    endless.left_deg[700] = std::nan("");
    CHECK_THROWS_AS(fit(robot, {endless}), InputError);
    endless.left_deg.pop_back();
    CHECK_THROWS_AS(fit(robot, {endless}), InputError);
    CHECK_THROWS_AS(fit(robot, {}), InputError);
    CHECK_THROWS_AS(fit(robot, {DriveLog{}}), InputError);
}

TEST_CASE("fit: what stands, or turns one wheel alone, tells nothing of what did not turn") {
    const Robot robot = fern_robot("sprig-2");
    DriveLog log = telling_log(robot);
    DriveLog one_wheel = log;
    std::fill(one_wheel.left_deg.begin(), one_wheel.left_deg.end(), 0.0);
    std::fill(one_wheel.left_pct.begin(), one_wheel.left_pct.end(), 0.0);
    one_wheel.way_mm.clear();
    one_wheel.turn_deg.clear();
    const FitReport half = fit(robot, {one_wheel});
    CHECK(half.find("top_speed_mm_s") == nullptr); // the left one is the stronger
    CHECK(is_untold(half, "top speed"));
    std::fill(log.left_deg.begin(), log.left_deg.end(), 11.0);
    std::fill(log.right_deg.begin(), log.right_deg.end(), 11.0);
    const FitReport stood = fit(robot, {log});
    CHECK(stood.find("motors.lag_ms") == nullptr);
    CHECK(is_untold(stood, "motors, dead band, delay and track"));
}

TEST_CASE("fit: numbers are held against the days of the file") {
    Robot filed = fern_robot("sprig-2");
    filed.variation = {{Quantity::battery, {Scatter::Kind::even, 1.0, 0.0, 0.86, 1.02, {}}},
                       {Quantity::motor_lag, {Scatter::Kind::about, 1.0, 0.08, 1.0, 1.0, {}}},
                       {Quantity::dead_band, {Scatter::Kind::one_of, 0.0, 0.0, 0.0, 0.0, {-1.0, 2.0}}}};
    Robot truth = filed;
    truth.top_speed_mm_s *= 0.9;
    truth.motors.lag_ms *= 1.5;
    const FitReport report = fit(filed, {telling_log(truth)});
    const FittedNumber* top = report.find("top_speed_mm_s");
    REQUIRE(top != nullptr);
    REQUIRE(top->on_days.has_value());
    CHECK(top->on_days->first == doctest::Approx(0.86 * filed.top_speed_mm_s));
    CHECK(top->on_days->second == doctest::Approx(1.02 * filed.top_speed_mm_s));
    CHECK_FALSE(top->is_as_filed());
    CHECK(top->is_of_its_days());
    const FittedNumber* lag = report.find("motors.lag_ms");
    REQUIRE(lag != nullptr);
    CHECK(lag->on_days->second == doctest::Approx(1.32 * filed.motors.lag_ms));
    CHECK_FALSE(lag->is_of_its_days());
    const FittedNumber* gain = report.find("motors.right.gain");
    REQUIRE(gain != nullptr);
    CHECK_FALSE(gain->on_days.has_value()); // no day moves it
    const FittedNumber* dead_band = report.find("motors.dead_band_pct");
    REQUIRE(dead_band != nullptr);
    CHECK(dead_band->on_days->first == doctest::Approx(filed.motors.dead_band_pct - 1.0));
    CHECK(dead_band->on_days->second == doctest::Approx(filed.motors.dead_band_pct + 2.0));
}

TEST_CASE("fit: a log of another robot is noticed, and what would explain it is said") {
    if (fixtures::sanitized()) {
        return; // the same memory as above
    }
    const Robot robot = fern_robot("sprig-2");
    const DriveLog log = telling_log(robot);
    CHECK(fit(robot, {log}).is_of_that_robot());
    DriveLog swapped = log;
    swapped.left_pct.swap(swapped.right_pct);
    CHECK(has_doubt(fit(robot, {swapped}), "if left and right are exchanged"));
    Robot faster = robot;
    faster.top_speed_mm_s *= 1.9;
    CHECK(has_doubt(fit(faster, {log}), "left wheel at full power"));
    Robot slower_loop = robot;
    slower_loop.look_ms = 14.0;
    CHECK(has_doubt(fit(slower_loop, {log}), "has a look every 10 ms"));
    Robot other_wheels = robot;
    other_wheels.wheel_mm *= 1.05;
    CHECK(has_doubt(fit(other_wheels, {log}), "wheel_mm 56"));
    CHECK(has_doubt(fit(fern_robot("sprig-1"), {log}), "line sensors"));
}

namespace {

/// Its begin: what takes long grows with the looks.
DriveLog shortened(DriveLog log, std::size_t looks) {
    for (std::vector<double>* list : {&log.t_ms, &log.left_pct, &log.right_pct, &log.left_deg, &log.right_deg,
                                      &log.gyro_deg, &log.way_mm, &log.turn_deg}) {
        list->resize(std::min(looks, list->size()));
    }
    for (std::vector<double>& counts : log.counts) {
        counts.resize(looks);
    }
    return log;
}

} // namespace

TEST_CASE("fit: powers that are rounded tell the dead band, and coarse encoders no delay that varies" *
          doctest::skip(fixtures::sanitized())) { // seconds there, and the same memory as above
    const Robot filed = fern_robot("sprig-2");
    Robot truth = filed;
    truth.top_speed_mm_s = 417.9;
    truth.motors.right.gain = 0.98757;
    truth.motors.lag_ms = 40.146;
    truth.motors.dead_band_pct = 6.4972;
    truth.delay_ms = 5.0;
    const FitReport exact = fit(filed, {telling_log(truth)});
    const FittedNumber* const dead_band = exact.find("motors.dead_band_pct");
    REQUIRE(dead_band != nullptr);
    CHECK(dead_band->low <= 6.4972);
    CHECK(dead_band->high >= 6.4972);
    CHECK(dead_band->high < 6.6);
    truth.encoders.counts = 96.0;
    const FitReport coarse = fit(filed, {telling_log(truth)});
    CHECK(coarse.find("delay_varies_ms") == nullptr);
    CHECK(coarse.find("delay_ms")->value == doctest::Approx(5.0).epsilon(0.3));
}

TEST_CASE("fit: dead bands that fit alike are all within what is told, however far apart and narrow they are") {
    DriveLog log;
    for (int i = 1; i <= 900; ++i) {
        log.left_pct.push_back(0.05 * i);
    }
    const DeadBand dead_band({log});
    // As friction at rest in the place of a dead band: what lies between fits not at all.
    const auto cost = [](double pct) {
        const double one = 1.5 + 2e6 * std::max(0.0, std::abs(pct - 1.075) - 0.02);
        const double other = 1.0 + 2e6 * std::max(0.0, std::abs(pct - 8.625) - 0.02);
        return std::min(one, other);
    };
    CHECK(dead_band.best(1.07, cost) == doctest::Approx(8.625));
    const auto range = dead_band.between(1.07, cost);
    REQUIRE(range.has_value());
    CHECK(range->first < 1.1);
    CHECK(range->second > 8.6);
}

TEST_CASE("fit: a robot with weight is found with its friction and battery") {
    if (fixtures::sanitized()) {
        return; // a minute there, and the same memory as above
    }
    Robot filed = fern_robot("sprig-5-weighed");
    filed.gyro.fitted = true;
    Robot truth = filed;
    truth.top_speed_mm_s *= 0.95;
    truth.motors.lag_ms *= 1.2;
    truth.motors.left.wheel = 1.009;
    truth.motors.right.wheel = 0.991;
    truth.drive->keep_pct = 2.1;
    truth.drive->sag = 0.11;
    const FitReport report = fit(filed, {shortened(telling_log(truth), 1700)});
    CHECK(report.is_of_that_robot());
    CHECK(report.find("top_speed_mm_s")->value == doctest::Approx(truth.top_speed_mm_s).epsilon(0.01));
    CHECK(report.find("motors.lag_ms")->value == doctest::Approx(truth.motors.lag_ms).epsilon(0.05));
    CHECK(report.find("drive.keep_pct")->value == doctest::Approx(2.1).epsilon(0.1));
    CHECK(report.find("drive.sag")->value == doctest::Approx(0.11).epsilon(0.25));
    const auto is_inside = [&](const char* key, double value, double within) {
        CAPTURE(key);
        const FittedNumber* const number = report.find(key);
        REQUIRE(number != nullptr);
        CHECK(std::abs(number->value - value) < within);
        CHECK(number->low <= value);
        CHECK(number->high >= value);
    };
    // Wheels of other sizes move one another otherwise than alike ones, and tyres slide where it turns.
    is_inside("motors.right.gain", truth.motors.right.gain, 2e-4);
    is_inside("track_mm", truth.track_mm, 0.08);
    is_inside("motors.left.wheel", 1.009, 1e-3);
}
