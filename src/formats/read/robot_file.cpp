#include "vast_turn/formats/read/robot_file.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "formats/read/file_kind.hpp"
#include "formats/read/toml_reader.hpp"
#include "formats/read/variation_reader.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/sense/pattern.hpp"

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

LineSensor read_sensor(TomlTable& table) {
    LineSensor sensor;
    sensor.at_mm = table.pair("at_mm", {-1000.0, 1000.0});
    sensor.spot_mm = table.number("spot_mm", {0.5, 100.0}, sensor.spot_mm);
    const std::string light = table.one_of("light", {"red", "green", "blue", "white", "infrared"}, "red");
    sensor.light = parse_light(light).value_or(Light::red);
    sensor.channel = table.text("channel", "");
    sensor.adc_max = table.whole("adc_max", {1.0, 65535.0}, sensor.adc_max);
    sensor.noise = table.number("noise", {0.0, 10000.0}, sensor.noise);
    sensor.gain = table.number("gain", {0.01, 4.0}, sensor.gain);
    sensor.curve = table.number("curve", {0.2, 5.0}, sensor.curve);
    sensor.response_ms = table.number("response_ms", {0.0, 1000.0}, sensor.response_ms);
    sensor.outside = table.number("outside", {0.0, 100.0}, sensor.outside);
    sensor.drift = table.number("drift", {-0.9, 0.9}, sensor.drift);
    table.done();
    return sensor;
}

RangeSensor read_range_sensor(TomlTable table) {
    RangeSensor sensor;
    sensor.at_mm = table.pair("at_mm", {-1000.0, 1000.0});
    sensor.heading_deg = table.number("heading_deg", {-360.0, 360.0}, sensor.heading_deg);
    sensor.max_mm = table.number("max_mm", {1.0, 100000.0}, sensor.max_mm);
    sensor.min_mm = table.number("min_mm", {0.0, sensor.max_mm}, sensor.min_mm);
    sensor.beam_deg = table.number("beam_deg", {0.0, 120.0}, sensor.beam_deg);
    sensor.slant_deg = table.number("slant_deg", {1.0, 90.0}, sensor.slant_deg);
    sensor.noise_mm = table.number("noise_mm", {0.0, 1000.0}, sensor.noise_mm);
    sensor.step_mm = table.number("step_mm", {0.0, 1000.0}, sensor.step_mm);
    sensor.rate_ms = table.number("rate_ms", {0.0, 10000.0}, sensor.rate_ms);
    table.done();
    return sensor;
}

std::vector<ColourSensor> read_colour_sensors(TomlTable& root) {
    std::vector<ColourSensor> sensors;
    for (TomlTable& table : root.tables("colour_sensor")) {
        ColourSensor sensor;
        sensor.name = table.text("name");
        sensor.at_mm = table.pair("at_mm", {-1000.0, 1000.0});
        sensor.spot_mm = table.number("spot_mm", {0.5, 100.0}, sensor.spot_mm);
        sensor.adc_max = table.whole("adc_max", {1.0, 65535.0}, sensor.adc_max);
        sensor.noise = table.number("noise", {0.0, 10000.0}, sensor.noise);
        sensor.rate_ms = table.number("rate_ms", {0.0, 10000.0}, sensor.rate_ms);
        if (table.has("white")) {
            const std::vector<double> white = table.numbers("white", {0.1, 4.0});
            if (white.size() == sensor.white.size()) {
                std::copy(white.begin(), white.end(), sensor.white.begin());
            } else {
                table.fault("white", fmt::format("`white` has {} numbers, expected 3", white.size()),
                            "write [red, green, blue]: the parts that it gets of white");
            }
        }
        table.done();
        sensors.push_back(std::move(sensor));
    }
    return sensors;
}

/// The table of a sensor says that it is there, unless `fitted = false`.
void read_compass(TomlTable& root, Robot& robot) {
    if (!root.has("compass")) {
        return;
    }
    TomlTable table = root.table("compass");
    robot.has_compass = table.flag("fitted", true);
    robot.compass_bias_deg = table.number("bias_deg", {-180.0, 180.0}, robot.compass_bias_deg);
    robot.compass_noise_deg = table.number("noise_deg", {0.0, 90.0}, robot.compass_noise_deg);
    table.done();
}

void read_encoders(TomlTable& root, Robot& robot) {
    if (!root.has("encoders")) {
        return;
    }
    TomlTable table = root.table("encoders");
    robot.has_encoders = table.flag("fitted", true);
    robot.encoder_counts = table.number("counts", {0.0, 1e6}, robot.encoder_counts);
    table.done();
}

void read_gyro(TomlTable& root, Robot& robot) {
    if (!root.has("gyro")) {
        return;
    }
    TomlTable table = root.table("gyro");
    robot.has_gyro = table.flag("fitted", true);
    robot.gyro_scale = table.number("scale", {0.5, 2.0}, robot.gyro_scale);
    robot.gyro_drift_deg_s = table.number("drift_deg_s", {-50.0, 50.0}, robot.gyro_drift_deg_s);
    table.done();
}

std::vector<LineSensor> read_sensors(TomlTable& root) {
    std::vector<LineSensor> sensors;
    std::vector<TomlTable> tables = root.tables("sensor");
    if (tables.empty() || tables.size() > static_cast<std::size_t>(max_sensors)) {
        root.fault("sensor",
                   fmt::format("a robot has 1 to {} line sensors, this one has {}", max_sensors, tables.size()),
                   "write one [[sensor]] for each, from left to right");
    }
    for (TomlTable& table : tables) {
        sensors.push_back(read_sensor(table));
        const std::size_t n = sensors.size();
        if (n > 1 && sensors[n - 1].at_mm.y >= sensors[n - 2].at_mm.y) {
            table.fault("at_mm", fmt::format("sensor {} does not lie to the right of sensor {}", n, n - 1),
                        "list sensors from left to right; the second number of at_mm is how far to the left");
        }
        const bool taken = std::any_of(sensors.begin(), sensors.end() - 1, [&](const LineSensor& s) {
            return !s.channel.empty() && s.channel == sensors.back().channel;
        });
        if (taken) {
            table.fault("channel", fmt::format("channel \"{}\" is wired to two sensors", sensors.back().channel),
                        "give each sensor the channel that its wire goes to");
        }
    }
    return sensors;
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
    robot.apart_ms = root.number("apart_ms", {0.0, 100.0}, robot.apart_ms);
    robot.lost_often = root.number("lost_looks", {0.0, 0.9}, robot.lost_often);
    robot.motors = read_motors(root.table("motors"));
    if (root.has("drive")) {
        robot.drive = read_drive(root.table("drive"));
    }
    robot.sensors = read_sensors(root);
    no_metres(root, robot);
    robot.colour_sensors = read_colour_sensors(root);
    if (root.has("range_sensor")) {
        robot.range_sensor = read_range_sensor(root.table("range_sensor"));
    }
    read_gyro(root, robot);
    read_compass(root, robot);
    read_encoders(root, robot);
    if (root.has("variation")) {
        robot.variation = read_variation(root.table("variation"));
    }
    root.done();
    toml.finish();
    return robot;
}

Robot load_robot(const std::string& path) { return parse_robot(read_file(path), path); }

} // namespace vast_turn
