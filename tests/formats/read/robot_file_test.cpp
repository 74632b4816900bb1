#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/robot/array.hpp"

#include <doctest/doctest.h>

using namespace vast_turn;

TEST_CASE("a robot file is read whole") {
    const Robot robot = load_robot("data/fern-house/sprig-2.robot.toml");
    CHECK(robot.name == "Sprig-2");
    CHECK(robot.track_mm == 118.0);
    CHECK(robot.wheel_mm == 56.0);
    CHECK(robot.look_ms == 10.0);
    CHECK(robot.delay_ms == 3.0);
    CHECK(robot.motors.lag_ms == 45.0);
    CHECK(robot.motors.right.gain == 0.97);
    CHECK(robot.motors.right.reversed);
    REQUIRE(robot.sensors.size() == 2);
    CHECK(robot.sensors[0].at_mm == Vec2{58.0, 17.0});
    CHECK(robot.sensors[1].channel == "A1");
    CHECK(robot.sensors[1].noise == 4.0);
}

TEST_CASE("defaults hold for what the file leaves out") {
    const Robot robot = parse_robot("name = \"r\"\ntrack_mm = 100\nwheel_mm = 50\ntop_speed_mm_s = "
                                    "300\n[[sensor]]\nat_mm = [50, 0]\nlight = \"white\"\n",
                                    "r");
    CHECK(robot.look_ms == 10.0);
    CHECK(robot.motors.left.gain == 1.0);
    CHECK(robot.sensors[0].light == Light::white);
    CHECK(robot.sensors[0].adc_max == 1023);
}

TEST_CASE("colour sensors, gains and the commands of motors are read") {
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    CHECK(robot.motors.left.command == CommandKind::servo);
    CHECK(robot.motors.left.output == "S1");
    CHECK(robot.motors.left.neutral == 92.5);
    CHECK(robot.motors.right.span == 41.0);
    CHECK(robot.sensors[3].adc_max == 4095);
    CHECK(robot.sensors[3].gain == 1.03);
    REQUIRE(robot.colour_sensors.size() == 1);
    CHECK(robot.colour_sensors[0].name == "nose");
    CHECK(robot.colour_sensors[0].spot_mm == 9.0);
    const ArrayFacts facts = array_facts(robot);
    CHECK(facts.left_mm == std::vector<double>{26.0, 13.0, 0.0, -13.0, -26.0});
    CHECK(facts.adc_max[3] == 4095.0);
}
