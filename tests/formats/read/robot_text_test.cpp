// Numbers put into a robot file: all else stays as it was written.
#include <doctest/doctest.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/robot_text.hpp"
#include "vast_turn/formats/read/text_file.hpp"

using namespace vast_turn;

namespace {

Setting of_robot(const std::string& key, const std::string& value) { return {Setting::Of::robot, key, value}; }

const std::string written_robot = "name = \"Sprig \u00e9\" # ours\n"
                                  "track_mm = 118   # by ruler\n"
                                  "wheel_mm = 56\n"
                                  "top_speed_mm_s = 390\n"
                                  "\n"
                                  "[motors]\n"
                                  "left = { gain = 1.00 }  # the good one\n"
                                  "[[sensor]]\n"
                                  "at_mm = [61, 26]\n"
                                  "[[sensor]]\n"
                                  "at_mm = [61, -26]\n"
                                  "noise = 3";

} // namespace

TEST_CASE("robot text: numbers are changed in place, new ones put where they belong") {
    const std::string changed = robot_text_with(
        written_robot, "r.robot.toml",
        {of_robot("track_mm", "119.2"), of_robot("motors.left.gain", "0.97"), of_robot("motors.left.wheel", "1.004"),
         of_robot("motors.right.gain", "0.95"), of_robot("motors.lag_ms", "44.5"), of_robot("delay_ms", "5"),
         of_robot("sensor.1.noise", "2.5"), of_robot("sensor.2.noise", "4.25"), of_robot("gyro.drift_deg_s", "0.03"),
         of_robot("gyro.scale", "1.01")});
    CHECK(changed.find("track_mm = 119.2   # by ruler\n") != std::string::npos);
    CHECK(changed.find("left = { wheel = 1.004, gain = 0.97 }  # the good one\n") != std::string::npos);
    CHECK(changed.find("name = \"Sprig \u00e9\" # ours\n") == 0);
    const Robot robot = parse_robot(changed, "r.robot.toml");
    CHECK(robot.delay_ms == 5.0);
    CHECK(robot.motors.right.gain == 0.95);
    CHECK(robot.motors.lag_ms == 44.5);
    CHECK(robot.sensors[0].noise == 2.5);
    CHECK(robot.sensors[1].noise == 4.25);
    CHECK(robot.gyro.fitted);
    CHECK(robot.gyro.scale == 1.01);
    CHECK(robot.gyro.drift_deg_s == 0.03);
}

TEST_CASE("robot text: line ends stay, every robot of the demo takes changes, and nothing unreadable is written") {
    std::string windows = written_robot;
    for (std::size_t at = windows.find('\n'); at != std::string::npos; at = windows.find('\n', at + 2)) {
        windows.replace(at, 1, "\r\n");
    }
    const std::string changed =
        robot_text_with(windows, "w", {of_robot("skid", "1.2"), of_robot("gyro.scale", "0.99")});
    CHECK(changed.find("skid = 1.2\r\n") != std::string::npos);
    CHECK(changed.find("[gyro]\r\nscale = 0.99\r\n") != std::string::npos);
    for (const char* name : {"sprig-1", "sprig-2", "sprig-3", "sprig-4", "sprig-5", "sprig-5-weighed"}) {
        CAPTURE(name);
        const std::string text = read_file(std::string("data/fern-house/") + name + ".robot.toml");
        CHECK(robot_text_with(text, name, {}) == text);
        const Robot robot = parse_robot(
            robot_text_with(text, name, {of_robot("motors.left.wheel", "1.01"), of_robot("sensor.1.noise", "7.5")}),
            name);
        CHECK(robot.motors.left.wheel == 1.01);
        CHECK(robot.sensors[0].noise == 7.5);
    }
    CHECK_THROWS_AS(robot_text_with(written_robot, "r", {of_robot("sensor.3.noise", "2")}), InputError);
    CHECK_THROWS_AS(robot_text_with(written_robot, "r", {of_robot("track_mm", "-4")}), InputError);
    CHECK_THROWS_AS(robot_text_with("track_mm = ", "r", {}), InputError);
}
