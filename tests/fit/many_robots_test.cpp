// Robots that are other than their file in many ways, found from a minute of their log each.
#include <cmath>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fit_tally.hpp"
#include "support/open_floor.hpp"
#include "support/rounds.hpp"
#include "vast_turn/fit/fit.hpp"
#include "vast_turn/fit/telling_drive.hpp"
#include "vast_turn/formats/read/drive_log_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;
using fixtures::Dice;
using fixtures::Tally;

namespace {

struct Drove {
    const char* robot;
    const char* plan; // of the demo, or the drive that tells when empty
};
constexpr Drove light_drives[] = {{"sprig-2", "two-proportional"}, {"sprig-3", "three-pi"}, {"sprig-5", "five-pid"},
                                  {"sprig-4", "four-table"},       {"sprig-2", ""},         {"sprig-5", "five-table"}};
constexpr Drove weighed_drives[] = {{"sprig-5-weighed", "five-pid"}, {"sprig-5-weighed", ""}};

Robot imperfect(Robot robot, Dice& dice) {
    robot.top_speed_mm_s *= dice.even(0.88, 1.12);
    Motor& weaker = robot.motors.left.gain >= robot.motors.right.gain ? robot.motors.right : robot.motors.left;
    weaker.gain *= dice.even(0.92, 1.03);
    robot.motors.lag_ms *= dice.even(0.75, 1.3);
    robot.motors.dead_band_pct = dice.even(2.0, 9.0);
    robot.delay_ms = std::round(dice.even(0.0, 9.0));
    const double larger = dice.even(-0.01, 0.01);
    robot.motors.left.wheel = 1.0 + larger;
    robot.motors.right.wheel = 1.0 - larger;
    robot.gyro.fitted = dice.one_in(2);
    robot.gyro.drift_deg_s = dice.even(-0.2, 0.2);
    robot.gyro.wander_deg_s = dice.one_in(3) ? 0.03 : 0.0;
    robot.compass.fitted = robot.gyro.fitted && dice.one_in(2);
    robot.compass.noise_deg = 0.6;
    robot.gyro.scale = robot.compass.fitted ? dice.even(0.98, 1.02) : 1.0;
    if (robot.gyro.fitted) {
        robot.track_mm *= dice.even(0.96, 1.04); // without a gyro nobody can tell
    }
    const double counts[] = {0.0, 360.0, 96.0, 1440.0};
    robot.encoders.counts = counts[dice.of(4)];
    robot.delay_varies_ms = dice.one_in(3) ? std::round(dice.even(2.0, 5.0)) : 0.0;
    robot.late_often = dice.one_in(4) ? 0.02 : 0.0;
    robot.lost_often = dice.one_in(4) ? 0.02 : 0.0;
    for (LineSensor& sensor : robot.sensors) {
        sensor.noise *= dice.even(0.7, 1.8);
    }
    if (robot.drive) {
        robot.drive->keep_pct = dice.even(0.5, 4.0);
        robot.drive->start_pct = robot.drive->keep_pct + dice.even(0.2, 3.0);
        robot.drive->sag = dice.even(0.02, 0.2);
        robot.drive->run_down = dice.even(0.0, 0.05);
    }
    return robot;
}

/// So many robots on one of these drives each.
Tally found(int robots, const std::vector<Drove>& drives_to_fit) {
    const Course loop = load_course("data/fern-house/mist-loop.course.toml");
    const Course open = fixtures::open_floor();
    Tally tally;
    for (int i = 1; i <= robots; ++i) {
        Dice dice(static_cast<std::uint32_t>(7000 + i));
        const Drove& drove = drives_to_fit[static_cast<std::size_t>(i) % drives_to_fit.size()];
        const Robot filed = load_robot(fmt::format("data/fern-house/{}.robot.toml", drove.robot));
        const Robot truth = imperfect(filed, dice);
        const Plan plan = *drove.plan != '\0' ? load_plan(fmt::format("data/fern-house/plans/{}.plan", drove.plan))
                                              : compile_plan(telling_drive(filed), "telling.plan").plan.value();
        RunOptions options;
        options.seed = static_cast<std::uint64_t>(i);
        options.keep_told = true;
        options.lost_after_s = 1000.0;
        options.off_course_mm = 1e5;
        const Run run = drive(Scene(*drove.plan != '\0' ? loop : open, truth), plan, options);
        Robot fitted_out = filed; // what it is fitted with is known
        fitted_out.gyro.fitted = truth.gyro.fitted;
        fitted_out.compass.fitted = truth.compass.fitted;
        const DriveLog log = parse_drive_log(trace_csv(run, truth, &plan), "told.csv", fitted_out);
        const FitReport report = fit(fitted_out, {log});
        CAPTURE(i);
        CAPTURE(drove.robot);
        CAPTURE(drove.plan);
        for (const std::string& doubt : report.doubts) {
            CHECK_MESSAGE(doubt.find("reckons its turn") != std::string::npos,
                          doubt); // its track is other, and it knows
        }
        INFO(fmt::format("{} {} {:.0f} s, counts {}, varies {}, late {}", drove.robot, drove.plan, log.seconds(),
                         truth.encoders.counts, truth.delay_varies_ms, truth.late_often));
        const bool left = filed.motors.left.gain >= filed.motors.right.gain;
        tally.take(report, "top_speed_mm_s", truth.top_speed_mm_s, 0.01 * truth.top_speed_mm_s);
        tally.take(report, left ? "motors.right.gain" : "motors.left.gain",
                   left ? truth.motors.right.gain : truth.motors.left.gain);
        tally.take(report, "motors.lag_ms", truth.motors.lag_ms, 0.05 * truth.motors.lag_ms);
        tally.take(report, "motors.dead_band_pct", truth.motors.dead_band_pct);
        tally.take(report, "delay_ms", truth.delay_ms, 1.5);
        if (truth.drive) {
            tally.take(report, "drive.keep_pct", truth.drive->keep_pct);
            tally.take(report, "drive.sag", truth.drive->sag);
            tally.take(report, "drive.run_down", truth.drive->run_down);
        }
        if (truth.gyro.fitted) {
            tally.take(report, "track_mm", truth.track_mm);
            tally.take(report, "motors.left.wheel", truth.motors.left.wheel);
            if (!(truth.gyro.wander_deg_s > 0.0)) { // else it is other at every moment
                tally.take(report, "gyro.drift_deg_s", truth.gyro.drift_deg_s);
            }
        }
        if (truth.compass.fitted) {
            tally.take(report, "gyro.scale", truth.gyro.scale);
        }
        for (std::size_t k = 0; k < truth.sensors.size(); ++k) {
            tally.take(report, fmt::format("sensor.{}.noise", k + 1), truth.sensors[k].noise);
        }
    }
    MESSAGE(tally.text());
    MESSAGE(fmt::format("{:.1f} % inside", 100.0 * tally.share_inside()));
    return tally;
}

} // namespace

TEST_CASE("robots that are other than their file are found from a minute of their log" *
          doctest::skip(fixtures::sanitized())) {
    const int robots = fixtures::rounds(150, 5, 1);
    const Tally tally = found(robots, {std::begin(light_drives), std::end(light_drives)});
    CHECK(tally.share_near("top_speed_mm_s") > 0.97);
    CHECK(tally.share_near("motors.lag_ms") > 0.95);
    CHECK(tally.share_near("delay_ms") > 0.75);                  // encoders are as coarse as 96 counts
    CHECK(tally.share_inside() > (robots >= 150 ? 0.93 : 0.86)); // 95 % of them, and few are looked at by default
    if (robots >= 150) {
        CHECK(tally.share_inside() < 0.99); // intervals that are too wide tell nothing
    }
}

TEST_CASE("robots with weight that are other than their file are found likewise") {
    const int robots = fixtures::rounds(50, 0, 0); // a quarter of a minute each
    if (robots == 0) {
        return;
    }
    const Tally tally = found(robots, {std::begin(weighed_drives), std::end(weighed_drives)});
    CHECK(tally.share_near("top_speed_mm_s") > 0.9);
    CHECK(tally.share_near("motors.lag_ms") > 0.85);
    CHECK(tally.share_inside() > 0.93);
    CHECK(tally.share_inside() < 0.99);
}
