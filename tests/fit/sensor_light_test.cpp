/// How much light sensors get, told by a log against a calibration from before it.

#include <cmath>
#include <string>

#include <doctest/doctest.h>

#include "support/fit_tally.hpp"
#include "support/rounds.hpp"
#include "vast_turn/fit/fit.hpp"
#include "vast_turn/formats/read/drive_log_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

namespace {

/// Sprig-5 as its file has it, with heights, and what was calibrated then.
struct Before {
    Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    Course course = load_course("data/fern-house/mist-loop.course.toml");
    Plan plan = load_plan("data/fern-house/plans/five-table.plan");
    Calibration calibration;

    Before() {
        for (std::size_t k = 0; k < robot.sensors.size(); ++k) {
            robot.sensors[k].height_mm = 5.3 + 0.4 * static_cast<double>(k);
        }
        calibration = Scene(course, robot).own_calibration();
    }

    /// What the log of a robot that is now other tells, against levels that are the means of eighty looks.
    FitReport fitted(const Robot& now, std::uint32_t number, fixtures::Dice& dice) const {
        RunOptions options;
        options.seed = number;
        options.keep_told = true;
        options.time_limit_s = 9.0;
        const Run run = drive(Scene(course, now), plan, options);
        FitOptions with;
        with.calibration = calibration;
        for (std::size_t k = 0; k < robot.sensors.size(); ++k) {
            const double error = robot.sensors[k].noise / std::sqrt(80.0);
            with.calibration->sensors[k].floor_counts += error * dice.normal();
            with.calibration->sensors[k].line_counts += error * dice.normal();
        }
        return fit(robot, {parse_drive_log(trace_csv(run, now, &plan), "told.csv", now)}, with);
    }
};

} // namespace

TEST_CASE("fit: the light of each sensor is told, of one that rides on the line, too" *
          doctest::skip(fixtures::sanitized())) {
    const Before before;
    fixtures::Dice dice(4'711);
    fixtures::Tally tally;
    for (int number = 1; number <= fixtures::rounds(80, 8, 1); ++number) {
        Robot now = before.robot;
        for (LineSensor& sensor : now.sensors) {
            sensor.gain *= dice.even(0.62, 1.0 / 1.04); // as long as its counts do not end
        }
        const FitReport report = before.fitted(now, static_cast<std::uint32_t>(number), dice);
        CHECK_FALSE(report.raised);
        for (std::size_t k = 0; k < now.sensors.size(); ++k) {
            const double gain = now.sensors[k].gain;
            tally.take(report, "sensor." + std::to_string(k + 1) + ".gain", gain, 0.02 * gain);
        }
    }
    MESSAGE(tally.text());
    CHECK(tally.share_inside() >= 0.9);
    for (const char* key : {"sensor.1.gain", "sensor.3.gain"}) { // the third is the middle one
        CHECK(tally.share_near(key) == 1.0);
    }
}

TEST_CASE("fit: sensors that all sit higher are told as such, with an interval") {
    const Before before;
    fixtures::Dice dice(5'309);
    int inside = 0;
    const int robots = fixtures::rounds(80, 8, 1);
    for (int number = 1; number <= robots; ++number) {
        const double mm = dice.even(0.2, 1.6);
        Robot now = before.robot;
        for (LineSensor& sensor : now.sensors) {
            sensor = raised(sensor, mm);
        }
        const FitReport report = before.fitted(now, static_cast<std::uint32_t>(number), dice);
        REQUIRE(report.raised);
        CHECK(report.raised->mm == doctest::Approx(mm).epsilon(0.05));
        inside += mm >= report.raised->low && mm <= report.raised->high ? 1 : 0;
    }
    MESSAGE(inside, " of ", robots, " inside");
    CHECK(10 * inside >= 9 * robots);
}
