/// The trace of a run is a whole log: put to the plan that drove it, it differs in no look.

#include <filesystem>

#include <doctest/doctest.h>

#include "plan/reference/model.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/looks_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/paint/surface.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/robot/array.hpp"

using namespace vast_turn;

namespace {

/// Looks in which the plan decides otherwise than it did in the run.
std::size_t differing(const Scene& scene, const Plan& plan, RunOptions options) {
    options.keep_told = true;
    const Run run = drive(scene, plan, options);
    const auto log = parse_log(trace_csv(run, scene.robot(), &plan), "trace",
                               array_reader(scene.robot(), run.calibration), {}, false, asked_names(plan));
    REQUIRE(log.size() == run.looks.size());
    Mind mind(plan);
    std::size_t others = 0;
    for (std::size_t i = 0; i < log.size(); ++i) {
        Answer answer;
        mind(log[i].look, answer);
        const LookRecord& then = run.looks[i];
        const bool same = answer.rule == then.rule && answer.block == then.block &&
                          static_cast<float>(answer.left_pct) == then.left_pct &&
                          static_cast<float>(answer.right_pct) == then.right_pct;
        others += same ? 0 : 1;
    }
    return others;
}

} // namespace

TEST_CASE("the trace of every model plan is a whole log of it" * doctest::skip(fixtures::sanitized())) {
    int runs = 0;
    for (const char* course_name : {"aisle", "crossing", "turns", "can", "stages", "mist-loop", "dark-plates"}) {
        const CourseFile file = load_course_file(std::string("data/fern-house/") + course_name + ".course.toml");
        for (const char* robot_name : {"sprig-1", "sprig-2", "sprig-3", "sprig-4", "sprig-5"}) {
            const Robot robot = load_robot(std::string("data/fern-house/") + robot_name + ".robot.toml");
            const Scene scene(file.course, robot);
            for (const auto& entry : std::filesystem::directory_iterator("data/fern-house/plans")) {
                const Plan plan = load_plan(entry.path().string());
                if (plan.sensors() != static_cast<int>(robot.sensors.size())) {
                    continue;
                }
                CAPTURE(entry.path().string());
                CAPTURE(course_name);
                RunOptions options;
                options.time_limit_s = 9.7;
                options.button_s = {{0.43, 0.81}, {4.0, 4.35}};
                options.hears = {{"bell", 1.28}, {"bell", 3.9}};
                try {
                    CHECK(differing(scene, plan, options) == 0);
                    ++runs;
                } catch (const InputError&) { // NOLINT(bugprone-empty-catch): it asks for what the robot has not
                }
            }
        }
    }
    CHECK(runs > 60);
}

TEST_CASE("the trace of a random plan is a whole log of it") {
    Course course = fixtures::board({"M 60 300 H 420 C 520 300 560 240 560 160 V 60", "M 420 300 H 940"}, 19.0, 2.0);
    course.palette = {{"amber", {214, 132, 40}}, {"teal", {20, 130, 128}}, {"magenta", {196, 40, 130}}};
    for (const double x : {230.0, 380.0, 700.0}) {
        course.markers.push_back({"amber", {214, 132, 40}, {x, 300.0}, 40.0, 40.0, 0.0, false, ""});
    }
    paint_surface(course, 2.0);
    int runs = 0;
    const std::uint32_t plans = static_cast<std::uint32_t>(fixtures::rounds(600, 120, 16));
    for (std::uint32_t seed = 1; seed <= plans; ++seed) {
        const reference::Plan made = reference::make(seed);
        const Plan plan = fixtures::compiled(reference::written(made));
        Robot robot = fixtures::ideal_robot(plan.sensors());
        robot.gyro.fitted = seed % 2 == 0;
        robot.compass.fitted = seed % 3 != 0;
        robot.encoders.fitted = true;
        robot.range_sensor = RangeSensor{{40.0, 0.0}, 0.0, 900.0};
        for (LineSensor& sensor : robot.sensors) {
            sensor.noise = 9.0;
        }
        robot.colour_sensors.push_back({"", {55.0, 0.0}});
        for (const std::string& place : plan.places()) {
            robot.colour_sensors.push_back({place, {55.0, place == "left" ? 20.0 : -20.0}});
        }
        const Scene scene(course, robot);
        RunOptions options;
        options.seed = seed;
        options.time_limit_s = 3.1;
        options.button_s = {{0.3, 0.6}, {1.7, 1.9}};
        for (const std::string& name : plan.heard()) {
            options.hears.push_back({name, 0.9});
            options.hears.push_back({name, 2.05});
        }
        CAPTURE(seed);
        try {
            CHECK(differing(scene, plan, options) == 0);
            ++runs;
        } catch (const InputError&) { // NOLINT(bugprone-empty-catch): it asks for what the robot has not
        }
    }
    CHECK(runs > static_cast<int>(plans) / 2);
}
