/// Robots as imperfect as can be written down: nothing but numbers comes out.

#include <algorithm>
#include <cmath>
#include <random>

#include <doctest/doctest.h>

#include "support/imperfect.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

namespace {

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
    const auto robots = static_cast<std::uint32_t>(fixtures::rounds(300, 45, 4));
    std::size_t looks = 0;
    std::size_t number = 0;
    for (const fixtures::Driven& model : fixtures::driven_models) {
        if (fixtures::sanitized() && (&model - fixtures::driven_models) % 3 != 0) {
            number += 1;
            continue;
        }
        Course course = load_course(std::string("data/fern-house/") + model.course + ".course.toml");
        course.lights = {{OutsideLight::Kind::lamp, 40.0, {300.0, 200.0}},
                         {OutsideLight::Kind::shadow, 0.0, {0.0, 0.0}, {600.0, 500.0}}};
        course.irons = {{{300.0, 200.0}, 20.0}, {{310.0, 200.0}, -20.0}};
        Robot robot = load_robot(std::string("data/fern-house/") + model.robot + ".robot.toml");
        const Plan plan = load_plan(std::string("data/fern-house/plans/") + model.plan + ".plan");
        for (std::uint32_t seed = 1; seed <= robots / std::size(fixtures::driven_models) + 1; ++seed) {
            std::mt19937 random(static_cast<std::uint32_t>(++number));
            robot.variation = fixtures::any_variation(random);
            robot.drive.reset();
            if (number % 2 == 0) {
                robot.drive = fixtures::any_drive(random);
            }
            fixtures::make_sensors_imperfect(robot, random);
            const Scene scene(course, robot);
            for (std::uint64_t day = 1; day <= (fixtures::sanitized() ? 1 : 3); ++day) {
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
    CHECK(looks > (fixtures::sanitized() ? 30 : 100) * robots);
}
