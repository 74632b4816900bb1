/// Runs of robots with weight, through the public API and the command.

#include <algorithm>
#include <cmath>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/robot/day.hpp"
#include "vast_turn/robot/manoeuvre.hpp"
#include "vast_turn/robot/robot_facts.hpp"

using namespace vast_turn;
using fixtures::call_vturn;
using fixtures::message_of;

namespace {

const std::string house = "data/fern-house/";

/// Both powers for a while, then none.
Run pushed(const Robot& robot, double left_pct, double right_pct, int looks, double seconds) {
    static const Course course = fixtures::board({"M 10,300 H 990"});
    const Scene scene(course, robot);
    RunOptions options;
    options.time_limit_s = seconds;
    options.lost_after_s = 60.0;
    options.off_course_mm = 900.0;
    options.pose = Pose{{200.0, 300.0}, 0.0};
    options.keep_told = true;
    int number = 0;
    return drive(scene, Decide([&](const Look&, Answer& out) {
                     const bool on = number++ < looks;
                     out.left_pct = on ? left_pct : 0.0;
                     out.right_pct = on ? right_pct : 0.0;
                 }),
                 options);
}

Robot with_weight() {
    Robot robot = fixtures::ideal_robot(3);
    robot.motors.lag_ms = 55.0;
    robot.drive = Drive{};
    robot.drive->grip = 1.1;
    robot.drive->keep_pct = 3.0;
    robot.drive->start_pct = 5.0;
    robot.drive->sag = 0.2;
    return robot;
}

} // namespace

TEST_CASE("half the step changes no route, and no time by more than a look") {
    const Robot robot = load_robot(house + "sprig-5-weighed.robot.toml");
    const Plan plan = load_plan(house + "over-the-drain.plan");
    for (const char* name : {"fern-house", "straight-drain"}) {
        CAPTURE(name);
        const Course course = load_course(house + name + ".course.toml");
        const Scene scene(course, robot);
        RunOptions options;
        options.time_limit_s = 20.0;
        for (options.seed = 1; options.seed <= 4; ++options.seed) {
            CAPTURE(options.seed);
            options.step_ms = 1.0;
            const Run coarse = drive(scene, plan, options);
            options.step_ms = 0.5;
            const Run fine = drive(scene, plan, options);
            CHECK(coarse.ending == fine.ending);
            REQUIRE(coarse.visits.size() == fine.visits.size());
            for (std::size_t i = 0; i < coarse.visits.size(); ++i) {
                CHECK(coarse.visits[i].place == fine.visits[i].place);
                CHECK(std::abs(coarse.visits[i].t_s - fine.visits[i].t_s) <= robot.look_ms / 1000.0 + 1e-9);
            }
            CHECK(std::abs(coarse.time_s - fine.time_s) <= robot.look_ms / 1000.0 + 1e-9);
        }
    }
}

TEST_CASE("what is foretold of a robot with weight is what it does: speed, circle, way to stop") {
    const Robot robot = with_weight();
    const Manoeuvre straight = manoeuvre_of(robot, 40.0, 40.0);
    CHECK(straight.speed_mm_s < 0.38 * robot.top_speed_mm_s);
    const Run run = pushed(robot, 40.0, 40.0, 200, 1.5);
    const LookRecord& a = run.looks[100];
    const LookRecord& b = run.looks[140];
    CHECK(length(b.at - a.at) / (b.t_s - a.t_s) == doctest::Approx(straight.speed_mm_s).epsilon(1e-3));
    const Run circle = pushed(robot, 20.0, 40.0, 400, 4.0);
    const LookRecord& c = circle.looks[200];
    const LookRecord& d = circle.looks[300];
    CHECK((d.heading_deg - c.heading_deg) / (d.t_s - c.t_s) ==
          doctest::Approx(manoeuvre_of(robot, 20.0, 40.0).turn_deg_s).epsilon(2e-3));
    CHECK(manoeuvre_of(robot, 4.0, 4.0).kind == ManoeuvreKind::still); // it takes 5 to start
    CHECK(pushed(robot, 4.0, 4.0, 50, 0.5).way_mm < 1e-9);
    for (const PowerFacts& one : facts_of(robot).powers) {
        if (one.power_pct > 70.0) {
            continue;
        }
        CAPTURE(one.power_pct);
        const Run stops = pushed(robot, one.power_pct, one.power_pct, 80, 2.0);
        CHECK(length(stops.end_at - stops.looks[80].at) == doctest::Approx(one.to_stop_mm).epsilon(0.02));
        CHECK(stops.slid_s < 1e-9);
        CHECK(one.slides_in_mm ==
              doctest::Approx(one.speed_mm_s * one.speed_mm_s / (1.1 * robot.drive->on_wheels * 9810.0)));
    }
}

TEST_CASE("where the tyres give way the wheels no longer tell the way, nor the turn; the gyro does") {
    Robot robot = with_weight();
    robot.motors.lag_ms = 20.0;
    robot.gyro.fitted = true;
    robot.drive->grip = 0.12;
    const Run run = pushed(robot, -90.0, 90.0, 60, 0.6);
    const Look& last = run.told.back();
    CHECK(run.slid_s > 0.1);
    CHECK(last.heading_by_wheels_deg > 1.15 * last.heading_by_gyro_deg);
    CHECK(last.heading_by_gyro_deg == doctest::Approx(run.looks.back().heading_deg));
    robot.drive->grip = 3.0;
    const Run holds = pushed(robot, -90.0, 90.0, 60, 0.6);
    CHECK(holds.slid_s < 1e-9);
    CHECK(holds.told.back().heading_by_wheels_deg ==
          doctest::Approx(holds.told.back().heading_by_gyro_deg).epsilon(1e-3));
}

TEST_CASE("days with other grip, friction and weight") {
    const Robot robot = with_weight();
    const Robot today =
        on_day(robot, {{Quantity::grip, 0, 0.5}, {Quantity::friction, 0, 2.5}, {Quantity::weight, 0, 1.2}});
    CHECK(today.drive->grip == doctest::Approx(0.55));
    CHECK(today.drive->keep_pct == doctest::Approx(5.5));
    CHECK(today.drive->start_pct == doctest::Approx(7.5));
    CHECK(today.drive->mass_g == doctest::Approx(1.2 * robot.drive->mass_g));
    CHECK_FALSE(on_day(fixtures::ideal_robot(2), {{Quantity::grip, 0, 0.5}}).drive); // it weighs nothing
    CHECK(on_day(robot, {{Quantity::friction, 0, -80.0}}).drive->keep_pct == 0.0);
}

TEST_CASE("what varies and makes no difference to the robot tells nothing") {
    Robot robot = fixtures::ideal_robot(2);
    for (const QuantityFacts& facts : quantities()) {
        robot.variation.push_back({facts.quantity, {}});
    }
    const auto told = [&](Quantity quantity) {
        const Variation telling = telling_variation(robot);
        return std::any_of(telling.begin(), telling.end(), [&](const Varied& one) { return one.what == quantity; });
    };
    CHECK(told(Quantity::left_motor));
    CHECK_FALSE(told(Quantity::gyro_drift));
    CHECK_FALSE(told(Quantity::grip));
    CHECK_FALSE(told(Quantity::outside));
    CHECK_FALSE(told(Quantity::plates_faded));
    CHECK_FALSE(told(Quantity::raised));
    CHECK_FALSE(told(Quantity::counts_lost));
    CHECK_FALSE(told(Quantity::range_noise));
    robot.gyro.fitted = robot.compass.fitted = true;
    robot.encoders.counts = 48.0;
    robot.drive = Drive{};
    CHECK_FALSE(told(Quantity::sag)); // of a battery that does not
    robot.drive->sag = robot.drive->caster_drag = 0.1;
    robot.sensors[1].outside = 0.2;
    robot.sensors[0].height_mm = 7.0;
    robot.colour_sensors.emplace_back().noise = 3.0;
    robot.range_sensor = RangeSensor{};
    robot.range_sensor->noise_mm = 2.0;
    CHECK(telling_variation(robot).size() == robot.variation.size());
}

TEST_CASE("vturn run and robot: of a weighed cart it is told how long it slid, and in which bends it would") {
    const std::string file = house + "sprig-5-weighed.robot.toml";
    const Robot robot = load_robot(file);
    REQUIRE(robot.drive);
    CHECK(robot.drive->mass_g == 486.0);
    CHECK(robot.drive->caster_mm.x == -49.0);
    const fixtures::Called run =
        call_vturn({"run", house + "drain.course.toml", file, house + "over-the-drain.plan", "--json"});
    CHECK(run.err == "");
    CHECK(nlohmann::json::parse(run.out)["slid_s"].get<double>() > 0.0);
    const fixtures::Called told = call_vturn({"robot", file});
    CHECK(told.status == 0);
    CHECK(told.out.find("slides in a bend of, mm") != std::string::npos);
    CHECK(call_vturn({"robot", house + "sprig-5.robot.toml"}).out.find("slides in") == std::string::npos);
    const std::string head =
        "name = \"r\"\ntrack_mm = 104\nwheel_mm = 41\ntop_speed_mm_s = 390\n[[sensor]]\nat_mm = [50, 0]\n";
    const auto fault = [&](const std::string& more) { return message_of([&] { parse_robot(head + more, "r"); }); };
    CHECK(fault("[drive]\ngyration_mm = 40\n").find("`mass_g` is missing") != std::string::npos);
    CHECK(fault("[drive]\nmass_g = 300\ngyration_mm = 40\nkeep_pct = 6\nstart_pct = 4\n")
              .find("`start_pct` is 4, below `keep_pct`, 6") != std::string::npos);
    CHECK(fault("[drive]\nmass_g = 300\ngyration_mm = 40\ngripp = 1\n").find("did you mean `grip`") !=
          std::string::npos);
}
