#include "vast_turn/formats/read/calibration_file.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

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

/// TOML text in quotation marks.
std::string quoted(const std::string& text) {
    std::string out = "\"";
    for (const char c : text) {
        if (c == '"' || c == '\\') {
            out += '\\';
        }
        out += static_cast<unsigned char>(c) < 0x20 ? ' ' : c;
    }
    return out + "\"";
}

using Json = nlohmann::ordered_json;

double rounded(double x) { return std::round(x * 1000.0) / 1000.0; }

Json level_json(const LevelReport& level) {
    return {{"looks", level.looks},          {"mean", rounded(level.mean)},   {"spread", rounded(level.spread)},
            {"noise", rounded(level.noise)}, {"drift", rounded(level.drift)}, {"clipped", rounded(level.clipped)}};
}

Json sensor_json(const SensorReport& s) {
    return {{"channel", s.channel},
            {"usable", s.usable},
            {"adc_max", s.adc_max},
            {"line", level_json(s.line)},
            {"floor", level_json(s.floor)},
            {"contrast", rounded(s.contrast)},
            {"noise", rounded(s.noise)},
            {"threshold_counts", rounded(s.threshold_counts)},
            {"threshold_basis", s.basis == ThresholdBasis::midway ? "midway" : "least error"},
            {"mistaken_looks", s.error_share},
            {"hysteresis_counts", rounded(s.hysteresis_counts)},
            {"line_off", rounded(s.line_off)},
            {"floor_off", rounded(s.floor_off)}};
}

Json marker_json(const MarkerLook& marker) {
    Json seen = Json::array();
    for (const MarkerSeen& s : marker.seen) {
        seen.push_back({{"as", name_of(s.as)},
                        {"reading", rounded(s.reading)},
                        {"margin_counts", rounded(s.margin_counts)},
                        {"margin_in_noise", rounded(s.margin_in_noise)}});
    }
    return {{"colour", marker.colour}, {"looks", marker.looks}, {"seen", seen}};
}

Json rule_json(const MarkerRule& rule) {
    return {{"colour", rule.colour},
            {"ratio", fmt::format("{}/clear", colour_channel_names[rule.channel])},
            {"low", rounded(rule.low)},
            {"high", rounded(rule.high)},
            {"margin", rounded(rule.margin)},
            {"nearest", rule.nearest},
            {"not_told_from", rule.not_told_from}};
}

Json sweep_json(const SweepReport& sweep) {
    Json peaks = Json::array();
    for (const SweepPeak& peak : sweep.peaks) {
        peaks.push_back(peak.seen ? Json(rounded(peak.at)) : Json(nullptr));
    }
    Json off = Json::array();
    for (const double mm : sweep.off_mm) {
        off.push_back(rounded(mm));
    }
    return {{"came", sweep.came}, {"peak_looks", peaks}, {"off_mm", off}};
}

} // namespace

NamedCalibration parse_calibration(std::string_view text, std::string_view file) {
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

std::string calibration_toml(const CalibrationReport& report, const std::string& made_from) {
    fmt::memory_buffer out;
    const auto to = std::back_inserter(out);
    fmt::format_to(to, "# Made by vturn calibrate from {}. Counts.\n", made_from);
    for (const SensorReport& s : report.sensors) {
        fmt::format_to(to, "\n[[sensor]]\nchannel = {}\n", quoted(s.channel));
        if (s.usable) {
            fmt::format_to(to, "line_counts = {:.2f}\nfloor_counts = {:.2f}\nthreshold_counts = {:.2f}{}\n",
                           s.line.mean, s.floor.mean, s.threshold_counts,
                           s.basis == ThresholdBasis::midway ? "" : "  # where mistakes are rarest, not half way");
            fmt::format_to(to, "hysteresis_counts = {:.2f}\n", s.hysteresis_counts);
        } else {
            fmt::format_to(
                to, "line_counts = {0:.2f}  # reads the same over everything: floor for ever\nfloor_counts = {0:.2f}\n",
                s.floor.mean);
        }
    }
    return fmt::to_string(out);
}

std::string calibration_json(const CalibrationReport& report) {
    Json sensors = Json::array();
    for (const SensorReport& s : report.sensors) {
        sensors.push_back(sensor_json(s));
    }
    Json markers = Json::array();
    for (const MarkerLook& marker : report.markers) {
        markers.push_back(marker_json(marker));
    }
    Json rules = Json::array();
    for (const MarkerRule& rule : report.colour_rules) {
        rules.push_back(rule_json(rule));
    }
    Json verdicts = Json::array();
    for (const Verdict& v : report.verdicts) {
        verdicts.push_back({{"kind", name_of(v.kind)},
                            {"serious", v.serious},
                            {"sensors", v.sensors},
                            {"says", v.says},
                            {"to_do", v.to_do}});
    }
    const Json json = {{"line_is", report.line_is_lighter ? "higher counts" : "lower counts"},
                       {"sensors", sensors},
                       {"markers", markers},
                       {"colour_rules", rules},
                       {"sweep", report.sweep ? sweep_json(*report.sweep) : Json(nullptr)},
                       {"verdicts", verdicts}};
    return json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

} // namespace vast_turn
