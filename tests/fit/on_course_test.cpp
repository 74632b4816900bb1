// The course as a ruler: what a run over it tells of robots that are other than their file.
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fit_tally.hpp"
#include "support/rounds.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/fit/fit.hpp"
#include "vast_turn/formats/read/drive_log_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

namespace {

struct Errand {
    const char* course;
    const char* robot;
    const char* plan;
};
constexpr Errand errands[] = {
    {"data/fern-house/glass-wing", "sprig-5", "data/fern-house/rounds"},
    {"data/fern-house/mist-loop", "sprig-3", "data/fern-house/plans/three-pi"},
    {"tests/trial/yards/serre", "sprig-4", "tests/trial/yards/count"},
    {"data/fern-house/mist-loop", "sprig-5", "data/fern-house/plans/five-table"},
    {"tests/trial/yards/yard", "sprig-3", "tests/trial/yards/deliver"},
    {"data/fern-house/fern-house", "sprig-2", "data/fern-house/left-first"},
};

/// What its log tells of how it moves.
enum class Moves { powers, wheels, gyro };

Robot other_than(Robot robot, Moves moves, fixtures::Dice& dice) {
    robot.top_speed_mm_s *= dice.even(0.88, 1.12);
    robot.motors.left.gain *= dice.even(0.95, 1.03);
    robot.motors.right.gain *= dice.even(0.95, 1.03);
    robot.motors.lag_ms *= dice.even(0.75, 1.3);
    robot.track_mm *= dice.even(0.96, 1.04);
    if (moves != Moves::powers) {
        robot.wheel_mm *= dice.even(0.95, 1.05);
        robot.encoders.counts = dice.one_in(2) ? 360.0 : 1440.0;
    }
    robot.gyro.fitted = moves == Moves::gyro;
    robot.gyro.scale = dice.even(0.98, 1.02);
    robot.gyro.drift_deg_s = dice.even(-0.1, 0.1);
    for (LineSensor& sensor : robot.sensors) {
        sensor.noise *= dice.even(0.7, 1.8);
        sensor.gain *= dice.even(0.96, 1.04);
    }
    return robot;
}

/// What a robot of that kind logs of the run.
std::vector<LoggedLook> looks_of(const Run& run, Moves moves) {
    std::vector<LoggedLook> log;
    for (std::size_t i = 0; i < run.told.size(); ++i) {
        LoggedLook one;
        one.look = run.told[i];
        one.left_pct = static_cast<double>(run.looks[i].left_pct);
        one.right_pct = static_cast<double>(run.looks[i].right_pct);
        if (moves == Moves::powers) {
            one.look.left_deg = one.look.right_deg = one.look.way_mm = 0.0;
        }
        log.push_back(one);
    }
    return log;
}

DriveLog drive_log(const Run& run, const Robot& robot, const Plan& plan, Moves moves) {
    DriveLog log = parse_drive_log(trace_csv(run, robot, &plan), "told.csv", robot);
    if (moves == Moves::powers) {
        log.left_deg.clear();
        log.right_deg.clear();
        log.way_mm.clear();
        log.turn_deg.clear();
    }
    return log;
}

/// One robot on one errand; whether its run could be followed.
bool takes_errand(std::uint32_t number, Moves moves, fixtures::Tally& tally) {
    const Errand& errand = errands[number % std::size(errands)];
    fixtures::Dice dice(31'000 + number);
    const Course course = load_course(std::string(errand.course) + ".course.toml");
    Robot filed = load_robot(fmt::format("data/fern-house/{}.robot.toml", errand.robot));
    const Robot truth = other_than(filed, moves, dice);
    filed.encoders = truth.encoders;
    filed.gyro.fitted = truth.gyro.fitted;
    const Plan plan = load_plan(std::string(errand.plan) + ".plan");
    RunOptions options;
    options.seed = number;
    options.keep_told = true;
    options.time_limit_s = fixtures::rounds(40, 18, 18);
    const Run run = drive(Scene(course, truth), plan, options);
    const Scene scene(course, filed);
    const std::optional<CourseRuler> ruler = rule_by_course(scene, looks_of(run, moves));
    if (!ruler) {
        return false;
    }
    CHECK(ruler->start == run.start);
    CHECK((ruler->by == WayBy::powers) == (moves == Moves::powers));
    FitOptions with;
    with.rulers = {*ruler};
    const FitReport report = fit(filed, {drive_log(run, filed, plan, moves)}, with);
    CAPTURE(number);
    INFO(fmt::format("{} {} {:.0f} of {:.0f} s", errand.course, errand.plan, ruler->seconds, report.seconds));
    const bool left = filed.motors.left.gain >= filed.motors.right.gain;
    // Top speed is the stronger motor's, whose gain stays as the file has it.
    const Motor& measure = left ? truth.motors.left : truth.motors.right;
    const Motor& filed_measure = left ? filed.motors.left : filed.motors.right;
    const double top = truth.top_speed_mm_s * measure.gain / filed_measure.gain;
    tally.take(report, "top_speed_mm_s", top, 0.01 * top);
    const double ratio =
        left ? truth.motors.right.gain / truth.motors.left.gain : truth.motors.left.gain / truth.motors.right.gain;
    const double other = ratio * filed_measure.gain;
    tally.take(report, left ? "motors.right.gain" : "motors.left.gain", other, 0.01 * other);
    tally.take(report, "track_mm", truth.track_mm, 0.02 * truth.track_mm);
    if (moves != Moves::powers) {
        tally.take(report, "wheel_mm", truth.wheel_mm, 0.01 * truth.wheel_mm);
    }
    if (moves == Moves::gyro) {
        tally.take(report, "gyro.scale", truth.gyro.scale, 0.01 * truth.gyro.scale);
    }
    return true;
}

} // namespace

TEST_CASE("the course as a ruler: speeds without encoders, the size of wheels, the gyro's scale" *
          doctest::skip(fixtures::sanitized())) {
    const int robots = fixtures::rounds(40, 1, 1);
    for (const Moves moves : {Moves::powers, Moves::wheels, Moves::gyro}) {
        if (robots == 1 && moves != Moves::gyro) {
            continue; // the command is tried with the others
        }
        fixtures::Tally tally;
        int followed = 0;
        for (int i = 1; i <= robots; ++i) {
            followed += takes_errand(static_cast<std::uint32_t>(i), moves, tally) ? 1 : 0;
        }
        MESSAGE(fmt::format("{}: {} of {} followed, {:.1f} % inside\n{}",
                            moves == Moves::powers   ? "powers"
                            : moves == Moves::wheels ? "wheels"
                                                     : "wheels and gyro",
                            followed, robots, 100.0 * tally.share_inside(), tally.text()));
        CHECK(10 * followed >= 9 * robots);
        CHECK(tally.share_inside() >= (robots > 2 ? 0.9 : 0.7));
        CHECK(tally.share_near("top_speed_mm_s") >= 0.85);
    }
}
