/// Robots as imperfect as can be written down: nothing but numbers comes out.

#include <cmath>
#include <random>

#include <doctest/doctest.h>

#include "support/rounds.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

namespace {

struct Driven {
    const char* course;
    const char* robot;
    const char* plan;
};

constexpr Driven driven_models[] = {
    {"aisle", "sprig-1", "edge-right"},       {"aisle", "sprig-2", "two-beside"},
    {"aisle", "sprig-3", "three-pi"},         {"aisle", "sprig-4", "four-table"},
    {"drain", "sprig-5", "search"},           {"turns", "sprig-3", "colour-rules"},
    {"stages", "sprig-3", "stages"},          {"crossing", "sprig-3", "turn-by-heading"},
    {"crossing", "sprig-3", "turn-by-wheels"}};

/// Any number of quantities, each anywhere within its bounds, mostly to their ends.
Variation any_variation(std::mt19937& random) {
    Variation variation;
    for (const QuantityFacts& facts : quantities()) {
        if (random() % 3 == 0) {
            continue;
        }
        Scatter how;
        how.kind = static_cast<Scatter::Kind>(random() % 3);
        how.middle = facts.usual;
        how.deviation = facts.most - facts.least;
        how.from = facts.least;
        how.to = facts.most;
        how.values = {facts.least, facts.usual, facts.most};
        variation.push_back({facts.quantity, how});
    }
    return variation;
}

bool is_sound(const LookRecord& look, const Robot& robot) {
    bool sound = std::isfinite(look.at.x) && std::isfinite(look.at.y) && std::isfinite(look.heading_deg) &&
                 std::isfinite(look.way_mm) && std::isfinite(look.range_mm) && std::isfinite(look.left_pct) &&
                 std::isfinite(look.right_pct);
    for (std::size_t k = 0; k < robot.sensors.size(); ++k) {
        sound = sound && look.raw[k] <= robot.sensors[k].adc_max;
    }
    return sound;
}

} // namespace

TEST_CASE("random imperfect robots over the model plans: nothing but numbers comes out") {
    const auto robots = static_cast<std::uint32_t>(fixtures::rounds(300, 45, 18));
    std::size_t looks = 0;
    std::size_t number = 0;
    for (const Driven& model : driven_models) {
        const Course course = load_course(std::string("data/fern-house/") + model.course + ".course.toml");
        Robot robot = load_robot(std::string("data/fern-house/") + model.robot + ".robot.toml");
        const Plan plan = load_plan(std::string("data/fern-house/plans/") + model.plan + ".plan");
        for (std::uint32_t seed = 1; seed <= robots / std::size(driven_models) + 1; ++seed) {
            std::mt19937 random(static_cast<std::uint32_t>(++number));
            robot.variation = any_variation(random);
            const Scene scene(course, robot);
            for (std::uint64_t day = 1; day <= 3; ++day) {
                CAPTURE(model.plan);
                CAPTURE(seed);
                CAPTURE(day);
                RunOptions options;
                options.seed = seed;
                options.day = day;
                options.time_limit_s = 4.0;
                options.button_s = {{0.4, 0.7}};
                const Run run = drive(scene, plan, options);
                CHECK(std::isfinite(run.way_mm));
                CHECK(std::isfinite(run.turned_deg));
                CHECK(run.time_s <= 4.0);
                bool sound = true;
                for (const LookRecord& look : run.looks) {
                    sound = sound && is_sound(look, robot);
                }
                CHECK(sound);
                looks += run.looks.size();
                CHECK(drive(scene, plan, options).end_at == run.end_at);
            }
        }
    }
    CHECK(looks > 100 * robots);
}
