#include "vast_turn/formats/write/calibration_json.hpp"

#include <fmt/format.h>

#include "formats/write/json_text.hpp"

namespace vast_turn {

namespace {

Json level_json(const LevelReport& level) {
    return {{"looks", level.looks},
            {"mean", thousandths(level.mean)},
            {"spread", thousandths(level.spread)},
            {"noise", thousandths(level.noise)},
            {"drift", thousandths(level.drift)},
            {"clipped", thousandths(level.clipped)}};
}

Json sensor_json(const SensorReport& s) {
    return {{"channel", s.channel},
            {"usable", s.usable},
            {"adc_max", s.adc_max},
            {"line", level_json(s.line)},
            {"floor", level_json(s.floor)},
            {"contrast", thousandths(s.contrast)},
            {"noise", thousandths(s.noise)},
            {"threshold_counts", thousandths(s.threshold_counts)},
            {"threshold_basis", s.basis == ThresholdBasis::midway ? "midway" : "least error"},
            {"mistaken_looks", s.error_share},
            {"hysteresis_counts", thousandths(s.hysteresis_counts)},
            {"line_off", thousandths(s.line_off)},
            {"floor_off", thousandths(s.floor_off)}};
}

Json marker_json(const MarkerLook& marker) {
    Json seen = Json::array();
    for (const MarkerSeen& s : marker.seen) {
        seen.push_back({{"as", name_of(s.as)},
                        {"reading", thousandths(s.reading)},
                        {"margin_counts", thousandths(s.margin_counts)},
                        {"margin_in_noise", thousandths(s.margin_in_noise)}});
    }
    return {{"colour", marker.colour}, {"looks", marker.looks}, {"seen", seen}};
}

Json rule_json(const MarkerRule& rule) {
    return {{"colour", rule.colour},
            {"ratio", fmt::format("{}/clear", colour_channel_names[rule.channel])},
            {"low", thousandths(rule.low)},
            {"high", thousandths(rule.high)},
            {"margin", thousandths(rule.margin)},
            {"nearest", rule.nearest},
            {"not_told_from", rule.not_told_from}};
}

Json sweep_json(const SweepReport& sweep) {
    Json peaks = Json::array();
    for (const SweepPeak& peak : sweep.peaks) {
        peaks.push_back(peak.seen ? Json(thousandths(peak.at)) : Json(nullptr));
    }
    Json off = Json::array();
    for (const double mm : sweep.off_mm) {
        off.push_back(thousandths(mm));
    }
    return {{"came", sweep.came}, {"peak_looks", peaks}, {"off_mm", off}};
}

} // namespace

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
    return written(json);
}

} // namespace vast_turn
