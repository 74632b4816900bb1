#include "vast_turn/formats/read/calibration_file.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "formats/read/file_kind.hpp"
#include "formats/read/toml_reader.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace vast_turn {

namespace {

constexpr Range counts{-1e7, 1e7};

SensorLevels read_levels(TomlTable& table) {
    SensorLevels levels;
    levels.line_counts = table.number("line_counts", counts);
    levels.floor_counts = table.number("floor_counts", counts);
    const double span = levels.line_counts - levels.floor_counts;
    const double midway = 0.5 * (levels.line_counts + levels.floor_counts);
    const double threshold = table.number("threshold_counts", counts, midway);
    const double hysteresis = table.number("hysteresis_counts", {0.0, 1e7}, 0.0);
    if (span > 0.0 || span < 0.0) {
        levels.threshold = (threshold - levels.floor_counts) / span;
        levels.hysteresis = hysteresis / std::abs(span);
        if (!(levels.threshold > 0.0 && levels.threshold < 1.0)) {
            table.fault("threshold_counts",
                        fmt::format("the threshold {:g} does not lie between line ({:g}) and floor ({:g})", threshold,
                                    levels.line_counts, levels.floor_counts),
                        "put it between the two, for example half way");
        }
    }
    return levels;
}

} // namespace

NamedCalibration parse_calibration(std::string_view text, std::string_view file) {
    expect_kind(text, file, FileKind::calibration);
    TomlText toml(text, file);
    TomlTable root = toml.root();
    NamedCalibration out;
    out.file = file;
    std::vector<TomlTable> tables = root.tables("sensor");
    if (tables.empty() || tables.size() > static_cast<std::size_t>(max_sensors)) {
        root.fault("sensor",
                   fmt::format("a calibration is for 1 to {} sensors, this one has {}", max_sensors, tables.size()),
                   "write one [[sensor]] for each");
    }
    for (TomlTable& table : tables) {
        const std::string channel = table.text("channel");
        if (std::find(out.channels.begin(), out.channels.end(), channel) != out.channels.end()) {
            table.fault("channel", fmt::format("channel \"{}\" has two calibrations", channel), "leave one out");
        }
        out.channels.push_back(channel);
        out.levels.sensors.push_back(read_levels(table));
        table.done();
    }
    root.done();
    toml.finish();
    return out;
}

NamedCalibration load_calibration(const std::string& path) { return parse_calibration(read_file(path), path); }

Calibration calibration_for(const Robot& robot, const NamedCalibration& calibration) {
    Calibration out;
    for (std::size_t i = 0; i < robot.sensors.size(); ++i) {
        const std::string place = fmt::format("sensor_{}", i + 1);
        const std::string& channel = robot.sensors[i].channel;
        auto at = std::find(calibration.channels.begin(), calibration.channels.end(), channel);
        if (channel.empty() || at == calibration.channels.end()) {
            at = std::find(calibration.channels.begin(), calibration.channels.end(), place);
        }
        if (at == calibration.channels.end()) {
            throw InputError(
                calibration.file,
                fmt::format("has no levels for sensor {} (\"{}\") of robot \"{}\"{}", i + 1, channel, robot.name,
                            did_you_mean(channel, calibration.channels)),
                fmt::format("its channels are {}; calibrate with this robot file", one_of(calibration.channels)));
        }
        out.sensors.push_back(calibration.levels.sensors[static_cast<std::size_t>(at - calibration.channels.begin())]);
    }
    if (calibration.channels.size() != robot.sensors.size()) {
        throw InputError(calibration.file,
                         fmt::format("is for {} sensors, robot \"{}\" has {}", calibration.channels.size(), robot.name,
                                     robot.sensors.size()),
                         "calibrate with this robot file");
    }
    return out;
}

} // namespace vast_turn
