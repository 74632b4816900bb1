#include "formats/read/sensor_reader.hpp"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

namespace {

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
    sensor.height_mm = table.number("height_mm", {0.2, 200.0}, sensor.height_mm);
    if (table.has("raised_mm")) {
        const double by_mm = table.number("raised_mm", {-200.0, 200.0});
        if (!(sensor.height_mm > 0.0)) {
            table.fault("raised_mm", "it is not known how high the sensor is raised from",
                        "give height_mm: the height above the floor for which spot_mm and gain are told");
        } else if (!(sensor.height_mm + by_mm > 0.0)) {
            table.fault("raised_mm", fmt::format("`raised_mm` is {:g} at a height of {:g}", by_mm, sensor.height_mm),
                        "it must stay above the floor");
        }
        sensor = raised(std::move(sensor), by_mm);
    }
    table.done();
    return sensor;
}

/// It stands where the line sensor does that it is, unless the file says otherwise.
void read_double(TomlTable& table, ColourSensor& sensor, const std::vector<LineSensor>& line_sensors) {
    if (!table.has("line_sensor")) {
        table.mention("blind_ms");
        return;
    }
    const int number = table.whole("line_sensor", {1.0, static_cast<double>(max_sensors)}, 1);
    sensor.blind_ms = table.number("blind_ms", {0.0, 10000.0}, sensor.blind_ms);
    if (static_cast<std::size_t>(number) > line_sensors.size()) {
        table.fault("line_sensor", fmt::format("there is no line sensor {}", number),
                    fmt::format("the robot has {}, counted from the left", line_sensors.size()));
        return;
    }
    sensor.line_sensor = static_cast<std::size_t>(number - 1);
    sensor.at_mm = line_sensors[*sensor.line_sensor].at_mm;
    if (sensor.blind_ms > 0.0 && !(sensor.blind_ms < sensor.rate_ms)) {
        table.fault(
            "blind_ms",
            fmt::format("it is blind for {:g} ms and takes a colour every {:g} ms", sensor.blind_ms, sensor.rate_ms),
            "give a longer rate_ms: the line sensor would never see the line");
    }
}

ColourSensor read_colour_sensor(TomlTable& table, const std::vector<LineSensor>& line_sensors) {
    ColourSensor sensor;
    sensor.name = table.text("name");
    sensor.rate_ms = table.number("rate_ms", {0.0, 10000.0}, sensor.rate_ms);
    read_double(table, sensor, line_sensors);
    sensor.at_mm = sensor.line_sensor ? table.pair("at_mm", {-1000.0, 1000.0}, sensor.at_mm)
                                      : table.pair("at_mm", {-1000.0, 1000.0});
    sensor.spot_mm = table.number("spot_mm", {0.5, 100.0}, sensor.spot_mm);
    sensor.adc_max = table.whole("adc_max", {1.0, 65535.0}, sensor.adc_max);
    sensor.noise = table.number("noise", {0.0, 10000.0}, sensor.noise);
    sensor.exposure_ms = table.number("exposure_ms", {0.0, 1000.0}, sensor.exposure_ms);
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
    return sensor;
}

} // namespace

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

std::vector<ColourSensor> read_colour_sensors(TomlTable& root, const std::vector<LineSensor>& line_sensors) {
    std::vector<ColourSensor> sensors;
    for (TomlTable& table : root.tables("colour_sensor")) {
        sensors.push_back(read_colour_sensor(table, line_sensors));
    }
    return sensors;
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

Gyro read_gyro(TomlTable& root) {
    Gyro gyro;
    if (root.has("gyro")) {
        TomlTable table = root.table("gyro");
        gyro.fitted = table.flag("fitted", true);
        gyro.scale = table.number("scale", {0.5, 2.0}, gyro.scale);
        gyro.drift_deg_s = table.number("drift_deg_s", {-50.0, 50.0}, gyro.drift_deg_s);
        gyro.wander_deg_s = table.number("wander_deg_s", {0.0, 50.0}, gyro.wander_deg_s);
        gyro.settling_deg_s = table.number("settling_deg_s", {-50.0, 50.0}, gyro.settling_deg_s);
        gyro.settles_ms = table.number("settles_ms", {0.0, 600000.0}, gyro.settles_ms);
        table.done();
    }
    return gyro;
}

Compass read_compass(TomlTable& root) {
    Compass compass;
    if (root.has("compass")) {
        TomlTable table = root.table("compass");
        compass.fitted = table.flag("fitted", true);
        compass.bias_deg = table.number("bias_deg", {-180.0, 180.0}, compass.bias_deg);
        compass.noise_deg = table.number("noise_deg", {0.0, 90.0}, compass.noise_deg);
        table.done();
    }
    return compass;
}

Encoders read_encoders(TomlTable& root) {
    Encoders encoders;
    if (root.has("encoders")) {
        TomlTable table = root.table("encoders");
        encoders.fitted = table.flag("fitted", true);
        encoders.counts = table.number("counts", {0.0, 1e6}, encoders.counts);
        encoders.lost = table.number("lost", {0.0, 0.9}, encoders.lost);
        if (encoders.lost > 0.0 && !(encoders.counts > 0.0)) {
            table.fault("lost", "counts are lost, and how many there are of a turn is not known",
                        "give counts: those of a turn of the wheel");
        }
        table.done();
    }
    return encoders;
}

} // namespace vast_turn
