/// The model plans: each is driven over the course that asks for its idea.

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <limits>
#include <random>
#include <set>

#include <doctest/doctest.h>

#include "plan/reference/model.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/trial/trip_result.hpp"

using namespace vast_turn;

namespace {

struct Model {
    const char* plan;
    const char* course;
    const char* robot;
    const char* trip;
    const char* says; ///< the last event
};

const std::vector<Model> models = {
    {"edge-left", "aisle", "sprig-1", "to the dock", "at the dock"},
    {"edge-right", "aisle", "sprig-1", "to the dock", "at the dock"},
    {"two-beside", "aisle", "sprig-2", "to the dock", "on the pad"},
    {"two-on-line", "aisle", "sprig-2-close", "to the dock", "at the dock"},
    {"two-proportional", "aisle", "sprig-2-close", "to the dock", "at the dock"},
    {"three-table", "aisle", "sprig-3", "to the dock", "on the pad"},
    {"three-pi", "aisle", "sprig-3", "to the dock", "on the pad"},
    {"four-table", "aisle", "sprig-4", "to the dock", "on the pad"},
    {"five-table", "aisle", "sprig-5", "to the dock", "on the pad"},
    {"five-pid", "aisle", "sprig-5", "to the dock", "on the pad"},
    {"search", "drain", "sprig-5", "over the drain", "on the pad"},
    {"search", "cut-off", "sprig-5", "give up", "given up"},
    {"gap-straight", "straight-drain", "sprig-3", "straight on", "on the pad"},
    {"fork-left", "fern-house", "sprig-3", "water the ferns", "on the pad"},
    {"fork-right", "fern-house", "sprig-3", "fetch pots", "on the pad"},
    {"turn-by-wheels", "crossing", "sprig-3", "left at the crossing", "on the pad"},
    {"turn-by-heading", "crossing", "sprig-3", "right at the crossing", "on the pad"},
    {"turn-to-line", "crossing", "sprig-3", "left at the crossing", "on the pad"},
    {"colour-rules", "turns", "sprig-3", "by the plates", "the end"},
    {"colour-list", "turns", "sprig-3", "by the plates", "the end"},
    {"dark-plate", "dark-plates", "sprig-5", "look at each", "magenta: the end"},
    {"u-turn", "dead-end", "sprig-3", "there and back", "back on the pad"},
    {"wait", "can", "sprig-3", "wait for it", "on the pad"},
    {"turn-back", "can", "sprig-3", "turn round", "at home"},
    {"stages", "stages", "sprig-3", "stage by stage", "at the wall"},
    {"laps", "mist-loop", "sprig-5", "two laps", "two laps"},
};

std::string file(const std::string& name) { return "data/fern-house/" + name; }

std::vector<std::string> plan_files() {
    std::vector<std::string> names;
    for (const auto& entry : std::filesystem::directory_iterator(file("plans"))) {
        names.push_back(entry.path().string());
    }
    std::sort(names.begin(), names.end());
    return names;
}

} // namespace

const std::uint64_t seeds = static_cast<std::uint64_t>(fixtures::rounds(3, 2, 1));

TEST_CASE("every model plan passes its trip whatever the noise") {
    const std::size_t step = fixtures::sanitized() ? 5 : 1; // long there
    for (std::size_t i = 0; i < models.size(); i += step) {
        const Model& model = models[i];
        const auto [course, trips] = load_course_file(file(std::string(model.course) + ".course.toml"));
        const Robot robot = load_robot(file(std::string(model.robot) + ".robot.toml"));
        const Plan plan = load_plan(file("plans/" + std::string(model.plan) + ".plan"));
        const Scene scene(course, robot);
        const auto trip = std::find_if(trips.begin(), trips.end(), [&](const Trip& t) { return t.name == model.trip; });
        REQUIRE(trip != trips.end());
        for (std::uint64_t seed = 1; seed <= seeds; ++seed) {
            CAPTURE(std::string(model.plan));
            CAPTURE(seed);
            RunOptions options;
            options.seed = seed;
            const TripResult result = take_trip(scene, plan, *trip, options);
            const std::string why = result.failures.empty() ? "" : result.failures.front();
            CAPTURE(why);
            CHECK(result.passed);
            CHECK(result.run.unanswered == 0);
            REQUIRE_FALSE(result.run.events.empty());
            CHECK(plan.texts()[result.run.events.back().event.what] == model.says);
        }
    }
}

TEST_CASE("no model plan is without a drive, and none has a warning") {
    std::set<std::string> driven;
    for (const Model& model : models) {
        driven.insert(file("plans/" + std::string(model.plan) + ".plan"));
    }
    for (const std::string& name : plan_files()) {
        std::vector<Problem> warnings;
        load_plan(name, &warnings);
        CHECK_MESSAGE(driven.contains(name), name);
        CHECK_MESSAGE(warnings.empty(), name);
    }
}

TEST_CASE("what a plan counts is told: two laps") {
    const Course course = load_course(file("mist-loop.course.toml"));
    const Robot robot = load_robot(file("sprig-5.robot.toml"));
    const Scene scene(course, robot);
    const Run run = drive(scene, load_plan(file("plans/laps.plan")));
    std::vector<double> told;
    for (const RunEvent& event : run.events) {
        if (event.event.kind == EventKind::tell) {
            told.push_back(event.event.value);
        }
    }
    CHECK(told == std::vector<double>{1.0, 2.0});
}

TEST_CASE("random looks harm no plan: powers stay within bounds, whatever is told") {
    // VTURN_LOOKS=10000000 asks for as many; a few by default.
    const char* wanted = std::getenv("VTURN_LOOKS");
    const long looks = wanted != nullptr ? std::atol(wanted) : 200'000;
    std::vector<Plan> plans;
    for (const std::string& name : plan_files()) {
        plans.push_back(load_plan(name));
    }
    const std::size_t models_count = plans.size();
    for (std::uint32_t seed = 5001; plans.size() < models_count + 100; ++seed) {
        plans.push_back(fixtures::compiled(reference::written(reference::make(seed))));
    }
    const long each = looks / static_cast<long>(plans.size()) + 1;
    std::mt19937 random(12);
    for (const Plan& plan : plans) {
        Mind mind(plan);
        reference::Looks script(static_cast<std::uint32_t>(random()), plan.sensors());
        Answer answer;
        for (long i = 0; i < each; ++i) {
            if (answer.halted) {
                mind = Mind(plan);
            }
            Look look = script.next(plan.places(), plan.heard());
            if (random() % 64 == 0) { // a wild one
                look.range_mm = static_cast<double>(random()) * 1e300;
                look.offset = std::numeric_limits<double>::quiet_NaN();
                look.raw[0] = -1e18;
            }
            mind(look, answer);
            const bool within = answer.left_pct >= -100.0 && answer.left_pct <= 100.0 && answer.right_pct >= -100.0 &&
                                answer.right_pct <= 100.0;
            REQUIRE(within);
        }
    }
}
