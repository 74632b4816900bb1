#include "vast_turn/robot/robot_facts.hpp"

#include <cmath>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using namespace vast_turn;
using fixtures::call_vturn;
using fixtures::Called;

namespace {

/// Drives at one power, then answers that both wheels stand, and tells the way from that look on.
double driven_to_stop(const Robot& robot, double power) {
    static const Course course = fixtures::board({"M 10,300 H 990"});
    const Scene scene(course, robot);
    RunOptions options;
    options.time_limit_s = 3.0;
    options.pose = Pose{{30.0, 300.0}, 0.0};
    constexpr int stops_at = 60;
    int number = 0;
    const Run run = drive(scene, Decide([&](const Look&, Answer& out) {
                              out.left_pct = out.right_pct = number++ < stops_at ? power : 0.0;
                          }),
                          options);
    return length(run.end_at - run.looks[stops_at].at);
}

} // namespace

TEST_CASE("what follows from a robot's numbers is what it does") {
    Robot robot = fixtures::ideal_robot(3);
    robot.motors.lag_ms = 60.0;
    robot.delay_ms = 4.0;
    const RobotFacts facts = facts_of(robot);
    for (const PowerFacts& one : facts.powers) {
        if (one.power_pct > 60.0) {
            continue; // the board is not long enough
        }
        CAPTURE(one.power_pct);
        CHECK(driven_to_stop(robot, one.power_pct) == doctest::Approx(one.to_stop_mm).epsilon(1e-3));
        CHECK(one.between_looks_mm == doctest::Approx(one.speed_mm_s * robot.look_ms / 1000.0));
    }
    for (const PowerFacts& one : facts.powers) { // half a track times the sum of both powers by their difference
        if (one.power_pct < 100.0) {
            CHECK(one.tightest_bend_mm ==
                  doctest::Approx(0.5 * robot.track_mm * one.power_pct / (100.0 - one.power_pct)));
        } else {
            CHECK(std::isinf(one.tightest_bend_mm));
        }
    }
    // Inside wheel standing: it turns about it, so the middle is half a track away.
    for (const CircleFacts& one : facts.circles) {
        if (one.inside_pct == 0.0) {
            CHECK(one.radius_mm == doctest::Approx(0.5 * robot.track_mm));
        }
        if (one.inside_pct == -one.outside_pct) {
            CHECK(one.radius_mm == doctest::Approx(0.0));
        }
    }
    // A quarter turn on the spot: each wheel goes a quarter of a circle as wide as the track.
    CHECK(facts.quarter_on_spot_deg == doctest::Approx(90.0 * robot.track_mm / robot.wheel_mm));
    CHECK(facts.quarter_on_wheel_deg == doctest::Approx(2.0 * facts.quarter_on_spot_deg));
    robot.skid = 1.5;
    CHECK(facts_of(robot).quarter_on_spot_deg == doctest::Approx(1.5 * facts.quarter_on_spot_deg));
    CHECK(facts.unlikely.empty());
    CHECK(facts.array_width_mm == doctest::Approx(2.0 * 14.0 + robot.sensors[0].spot_mm));
    robot.sensors.pop_back(); // what lies to one side alone is no wider for that
    CHECK(facts_of(robot).array_width_mm == doctest::Approx(14.0 + robot.sensors[0].spot_mm));
}

TEST_CASE("vturn robot: every Sprig is likely, drawn and told; what no robot has is said with what may be meant") {
    const fixtures::Folder folder;
    for (const char* name : {"sprig-1", "sprig-2", "sprig-2-close", "sprig-3", "sprig-4", "sprig-5"}) {
        const Called called = call_vturn({"robot", std::string("data/fern-house/") + name + ".robot.toml"});
        CHECK(called.status == 0);
        CHECK(called.err == "");
        CHECK(called.out.find("A quarter turn: ") != std::string::npos);
    }
    const std::string odd = folder.file("odd.robot.toml");
    write_file(odd, "name = \"Odd\"\ntrack_mm = 11.8\nwheel_mm = 56\ntop_speed_mm_s = 42\nlook_ms = 100\n"
                    "[motors]\nlag_ms = 50\n[[sensor]]\nat_mm = [-63, 1.1]\nnoise = 300\n"
                    "[[sensor]]\nat_mm = [1.9, 0.5]\nspot_mm = 60\n");
    const Called told = call_vturn({"robot", odd, "--json", "-o", folder.file("odd.png")});
    CHECK(told.status == 1);
    CHECK(read_file(folder.file("odd.png")).size() > 1000);
    const nlohmann::json json = nlohmann::json::parse(told.out);
    std::string all;
    for (const auto& sentence : json["unlikely"]) {
        all += sentence.get<std::string>() + "\n";
    }
    CHECK(all.find("track_mm is 11.8; robots have 30 to 500") != std::string::npos);
    CHECK(all.find("top_speed_mm_s is 42") != std::string::npos);
    CHECK(all.find("look_ms is 100") != std::string::npos);
    CHECK(all.find("sensor 1 lies 63 mm behind the axle") != std::string::npos);
    CHECK(all.find("noise of sensor 1 is 300") != std::string::npos);
    CHECK(all.find("sensor 2 is 1.96 mm from the middle") != std::string::npos);
    CHECK(all.find("spot_mm of sensor 2 is 60") != std::string::npos);
    CHECK(all.find("sensor 2 lies 0.6 mm beside sensor 1") != std::string::npos);
    CHECK(call_vturn({"robot", "data/fern-house/aisle.course.toml"}).status == 2);
    CHECK(call_vturn({"robot", odd, "-o", folder.file("x.gif")}).status == 2);
}
