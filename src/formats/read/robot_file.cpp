#include "vast_turn/formats/read/robot_file.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "formats/read/file_kind.hpp"
#include "formats/read/sensor_reader.hpp"
#include "formats/read/toml_reader.hpp"
#include "formats/read/variation_reader.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace vast_turn {

namespace {

constexpr Range size_mm{1.0, 2000.0};

Motor read_motor(TomlTable table) {
    Motor motor;
    motor.gain = table.number("gain", {0.01, 2.0}, motor.gain);
    motor.wheel = table.number("wheel", {0.5, 2.0}, motor.wheel);
    motor.reversed = table.flag("reversed", motor.reversed);
    motor.output = table.text("output", "");
    for (const char* key : {"span", "neutral_deg", "span_deg"}) {
        table.mention(key);
    }
    const std::string command = table.one_of("command", {"percent", "pwm", "servo"}, "percent");
    if (command == "pwm") {
        motor.command = CommandKind::pwm;
        motor.span = table.number("span", {1.0, 65535.0});
    } else if (command == "servo") {
        motor.command = CommandKind::servo;
        motor.neutral = table.number("neutral_deg", {-720.0, 720.0});
        motor.span = table.number("span_deg", {0.1, 720.0});
    }
    table.done();
    return motor;
}

Motors read_motors(TomlTable table) {
    Motors motors;
    motors.lag_ms = table.number("lag_ms", {0.0, 5000.0}, motors.lag_ms);
    constexpr double shortest_ms = 0.05; // what is shorter moves nothing that could be measured, but takes for ever
    if (motors.lag_ms > 0.0 && motors.lag_ms < shortest_ms) {
        table.fault("lag_ms", fmt::format("`lag_ms` is {:g}, expected 0 or {:g} to 5000", motors.lag_ms, shortest_ms),
                    "write 0: nobody can tell so short a lag from none");
    }
    motors.dead_band_pct = table.number("dead_band_pct", {0.0, 99.0}, motors.dead_band_pct);
    motors.left = read_motor(table.table("left"));
    motors.right = read_motor(table.table("right"));
    table.done();
    return motors;
}

/// Any two of its sides that are not neighbours.
bool crosses_itself(const std::vector<Vec2>& corners) {
    const std::size_t n = corners.size();
    for (std::size_t i = 0; i < n; ++i) {
        for (std::size_t j = i + 2; j < n; ++j) {
            if (segments_cross(corners[i], corners[i + 1], corners[j], corners[(j + 1) % n])) {
                return true;
            }
        }
    }
    return false;
}

/// Corners in order round the robot.
std::vector<Vec2> read_outline(TomlTable& root) {
    if (!root.has("outline_mm")) {
        return {};
    }
    std::vector<Vec2> corners = root.pairs("outline_mm", {-1000.0, 1000.0});
    constexpr std::size_t most_corners = 64;
    if (corners.size() < 3 || corners.size() > most_corners) {
        root.fault("outline_mm",
                   fmt::format("an outline has 3 to {} corners, this one has {}", most_corners, corners.size()),
                   "write [[ahead, left], ...], in order round the robot");
        return {};
    }
    if (crosses_itself(corners)) {
        root.fault("outline_mm", "the outline crosses itself", "list its corners in order round the robot");
    }
    return corners;
}

Drive read_drive(TomlTable table) {
    Drive drive;
    drive.mass_g = table.number("mass_g", {5.0, 50000.0});
    drive.gyration_mm = table.number("gyration_mm", {1.0, 1000.0});
    drive.on_wheels = table.number("on_wheels", {0.05, 1.0}, drive.on_wheels);
    drive.grip = table.number("grip", {0.02, 5.0}, drive.grip);
    drive.wheel_g = table.number("wheel_g", {0.1, 5000.0}, drive.wheel_g);
    drive.caster_mm = table.pair("caster_mm", {-1000.0, 1000.0}, drive.caster_mm);
    drive.caster_drag = table.number("caster_drag", {0.0, 3.0}, drive.caster_drag);
    drive.rub = table.number("rub", {0.0, 3.0}, drive.rub);
    drive.keep_pct = table.number("keep_pct", {0.0, 95.0}, drive.keep_pct);
    drive.start_pct = table.number("start_pct", {0.0, 95.0}, drive.keep_pct);
    if (drive.start_pct < drive.keep_pct) {
        table.fault("start_pct",
                    fmt::format("`start_pct` is {:g}, below `keep_pct`, {:g}", drive.start_pct, drive.keep_pct),
                    "starting takes at least as much as keeping on");
    }
    drive.play_deg = table.number("play_deg", {0.0, 45.0}, drive.play_deg);
    drive.sag = table.number("sag", {0.0, 0.9}, drive.sag);
    drive.run_down = table.number("run_down", {0.0, 0.5}, drive.run_down);
    table.done();
    return drive;
}

/// Sensors within a millimetre of the axle's middle, all of them, were measured in metres.
void no_metres(TomlTable& root, const Robot& robot) {
    const auto near = [](const LineSensor& sensor) { return length(sensor.at_mm) < 1.0; };
    const auto away = [](const LineSensor& sensor) { return length(sensor.at_mm) > 0.0; };
    if (std::all_of(robot.sensors.begin(), robot.sensors.end(), near) &&
        std::any_of(robot.sensors.begin(), robot.sensors.end(), away)) {
        root.fault("sensor", "all sensors lie within a millimetre of the middle between the wheels",
                   "write at_mm in millimetres: 70, not 0.07");
    }
}

} // namespace

Robot parse_robot(std::string_view text, std::string_view file) {
    expect_kind(text, file, FileKind::robot);
    TomlText toml(text, file);
    TomlTable root = toml.root();
    Robot robot;
    robot.file = file;
    robot.name = root.text("name");
    robot.track_mm = root.number("track_mm", size_mm);
    robot.wheel_mm = root.number("wheel_mm", size_mm);
    robot.top_speed_mm_s = root.number("top_speed_mm_s", {1.0, 20000.0});
    robot.look_ms = root.number("look_ms", {0.05, 10000.0}, robot.look_ms);
    robot.delay_ms = root.number("delay_ms", {0.0, 10000.0}, robot.delay_ms);
    robot.outline_mm = read_outline(root);
    robot.skid = root.number("skid", {1.0, 4.0}, robot.skid);
    if (root.has("late_looks")) {
        TomlTable late = root.table("late_looks");
        robot.late_often = late.number("share", {0.0, 0.9});
        robot.late_ms = late.number("by_ms", {0.0, 1000.0}, robot.late_ms);
        late.done();
    }
    robot.delay_varies_ms = root.number("delay_varies_ms", {0.0, 1000.0}, robot.delay_varies_ms);
    robot.apart_ms = root.number("apart_ms", {0.0, 100.0}, robot.apart_ms);
    robot.lost_often = root.number("lost_looks", {0.0, 0.9}, robot.lost_often);
    robot.motors = read_motors(root.table("motors"));
    if (root.has("drive")) {
        robot.drive = read_drive(root.table("drive"));
    }
    robot.sensors = read_sensors(root);
    no_metres(root, robot);
    robot.colour_sensors = read_colour_sensors(root, robot.sensors);
    if (root.has("range_sensor")) {
        robot.range_sensor = read_range_sensor(root.table("range_sensor"));
    }
    robot.gyro = read_gyro(root);
    robot.compass = read_compass(root);
    robot.encoders = read_encoders(root);
    if (root.has("variation")) {
        robot.variation = read_variation(root.table("variation"));
    }
    root.done();
    toml.finish();
    return robot;
}

Robot load_robot(const std::string& path) { return parse_robot(read_file(path), path); }

} // namespace vast_turn
