/// Runs side by side: each is the run that it is alone.

#include <random>
#include <stdexcept>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "support/imperfect.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/many/drive_many.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

bool same_look(const LookRecord& a, const LookRecord& b) {
    return a.t_s == b.t_s && a.at == b.at && a.heading_deg == b.heading_deg && a.way_mm == b.way_mm &&
           a.left_pct == b.left_pct && a.right_pct == b.right_pct && a.raw == b.raw && a.line_bits == b.line_bits &&
           a.block == b.block && a.rule == b.rule && a.markers == b.markers && a.range_mm == b.range_mm;
}

bool same_told(const Look& a, const Look& b) {
    bool same =
        a.clock_ms == b.clock_ms && a.line_bits == b.line_bits && a.sensors == b.sensors && a.offset == b.offset &&
        a.last_side == b.last_side && a.way_mm == b.way_mm && a.range_mm == b.range_mm && a.markers == b.markers &&
        a.heard == b.heard && a.heading_deg == b.heading_deg && a.heading_by_wheels_deg == b.heading_by_wheels_deg &&
        a.heading_by_gyro_deg == b.heading_by_gyro_deg && a.heading_by_compass_deg == b.heading_by_compass_deg &&
        a.left_deg == b.left_deg && a.right_deg == b.right_deg && a.button == b.button;
    for (int i = 0; i < a.sensors; ++i) {
        same = same && a.raw[i] == b.raw[i] && a.sensor[i] == b.sensor[i];
    }
    return same;
}

template <class List, class Same> bool all_same(const List& a, const List& b, Same same) {
    return a.size() == b.size() && std::equal(a.begin(), a.end(), b.begin(), same);
}

/// Whatever is said of a run, to the last bit.
bool same_run(const Run& a, const Run& b) {
    return a.seed == b.seed && a.day == b.day && a.start == b.start && a.ending == b.ending &&
           a.ended_because == b.ended_because && a.time_s == b.time_s && a.way_mm == b.way_mm &&
           a.turned_deg == b.turned_deg && a.end_at == b.end_at && a.slid_s == b.slid_s &&
           a.looks_done == b.looks_done && a.unanswered == b.unanswered && all_same(a.looks, b.looks, same_look) &&
           all_same(a.told, b.told, same_told) &&
           all_same(a.visits, b.visits,
                    [](const Visit& x, const Visit& y) { return x.place == y.place && x.t_s == y.t_s; }) &&
           all_same(a.events, b.events,
                    [](const RunEvent& x, const RunEvent& y) {
                        return x.t_s == y.t_s && x.at == y.at && x.event.kind == y.event.kind &&
                               x.event.what == y.event.what && x.event.value == y.event.value;
                    }) &&
           all_same(a.touches, b.touches,
                    [](const Touch& x, const Touch& y) { return x.t_s == y.t_s && x.at == y.at && x.what == y.what; });
}

/// Some runs that differ in seed, time and what is kept.
std::vector<RunOptions> some_runs(std::size_t count, double longest_s, bool on_days, bool with_button) {
    std::vector<RunOptions> all;
    for (std::size_t n = 0; n < count; ++n) {
        RunOptions options;
        options.seed = 11 + n;
        options.day = on_days ? 1 + n % 5 : 0;
        options.time_limit_s = longest_s - 0.37 * static_cast<double>(n % 7);
        if (with_button) { // which is asked of each alone
            options.button_s = {{0.4, 0.7}};
        }
        options.keep_told = n % 3 == 0;
        options.keep_looks = n % 4 != 3;
        all.push_back(options);
    }
    return all;
}

void check_as_alone(const Scene& scene, const Plan& plan, const std::vector<RunOptions>& options,
                    const ManyOptions& many) {
    const std::vector<Run> runs = drive_many(scene, plan, options, many);
    REQUIRE(runs.size() == options.size());
    for (std::size_t n = 0; n < runs.size(); ++n) {
        CAPTURE(n);
        CHECK(same_run(runs[n], drive(scene, plan, options[n])));
    }
}

} // namespace

TEST_CASE("side by side each run is the run that it is alone: model plans, ideal days and others") {
    for (const fixtures::Driven& model : fixtures::driven_models) {
        CAPTURE(model.plan);
        const Course course = load_course(fmt::format("data/fern-house/{}.course.toml", model.course));
        const Robot robot = load_robot(fmt::format("data/fern-house/{}.robot.toml", model.robot));
        const Plan plan = load_plan(fmt::format("data/fern-house/plans/{}.plan", model.plan));
        const Scene scene(course, robot);
        check_as_alone(scene, plan, some_runs(21, 6.0, false, model.plan == std::string("stages")),
                       {.lanes = 16, .jobs = 1});
        check_as_alone(scene, plan, some_runs(5, 3.0, false, true), {.lanes = 3, .jobs = 2});
    }
}

TEST_CASE("side by side random imperfect robots drive as alone, with weight and without") {
    std::size_t number = 0;
    for (const fixtures::Driven& model : fixtures::driven_models) {
        Course course = load_course(fmt::format("data/fern-house/{}.course.toml", model.course));
        course.lights = {{OutsideLight::Kind::lamp, 40.0, {300.0, 200.0}}};
        const Plan plan = load_plan(fmt::format("data/fern-house/plans/{}.plan", model.plan));
        for (int round = 0; round < fixtures::rounds(60, 4, 1); ++round) {
            CAPTURE(model.plan);
            CAPTURE(round);
            std::mt19937 random(static_cast<std::uint32_t>(++number));
            Robot robot = load_robot(fmt::format("data/fern-house/{}.robot.toml", model.robot));
            robot.variation = fixtures::any_variation(random);
            robot.drive.reset();
            if (number % 3 == 0) {
                robot.drive = fixtures::any_drive(random);
            }
            if (number % 4 < 2) {
                fixtures::make_sensors_imperfect(robot, random);
            }
            robot.lost_often = number % 5 == 0 ? 0.1 : 0.0;
            robot.delay_ms = static_cast<double>(number % 4);
            const Scene scene(course, robot);
            check_as_alone(scene, plan, some_runs(9, 3.0, number % 2 == 0, number % 3 == 0), {.lanes = 4, .jobs = 1});
        }
    }
}

TEST_CASE("side by side: what does not fit is refused, and what the taker throws is passed on") {
    const Course course = load_course("data/fern-house/aisle.course.toml");
    const Robot robot = load_robot("data/fern-house/sprig-2.robot.toml");
    const Plan plan = load_plan("data/fern-house/plans/two-beside.plan");
    const Scene scene(course, robot);
    std::vector<RunOptions> options = some_runs(40, 3.0, false, false);
    CHECK(drive_many(scene, plan, {}).empty());
    CHECK(drive_many(scene, plan, some_runs(3, 3.0, false, false), {.lanes = 0, .jobs = 0}).size() == 3);
    options[30].start = "nowhere";
    CHECK_THROWS_AS(drive_many(scene, plan, options), InputError);
    options[30].start.clear();
    for (const int jobs : {1, 3}) {
        std::atomic<int> taken = 0;
        CHECK_THROWS_AS(drive_many(scene, plan, options,
                                   [&taken](std::size_t, Run&) {
                                       if (++taken == 5) {
                                           throw std::runtime_error("enough");
                                       }
                                   },
                                   {.lanes = 4, .jobs = jobs}),
                        std::runtime_error);
        CHECK(taken >= 5);
        CHECK(taken < 40);
    }
    const Plan other = load_plan("data/fern-house/plans/five-pid.plan");
    CHECK_THROWS_AS(drive_many(scene, other, some_runs(2, 3.0, false, false)), InputError);
}
