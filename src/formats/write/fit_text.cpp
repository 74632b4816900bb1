#include "vast_turn/formats/write/fit_text.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "formats/write/json_text.hpp"

namespace vast_turn {

std::string fit_json(const FitReport& report) {
    Json numbers = Json::array();
    for (const FittedNumber& one : report.numbers) {
        numbers.push_back({{"key", one.key},
                           {"words", one.words},
                           {"unit", one.unit},
                           {"filed", one.filed},
                           {"value", one.value},
                           {"low", one.low},
                           {"high", one.high},
                           {"on_days", one.on_days ? Json({one.on_days->first, one.on_days->second}) : Json(nullptr)}});
    }
    Json untold = Json::array();
    for (const UntoldNumber& one : report.untold) {
        untold.push_back({{"words", one.words}, {"why", one.why}, {"needs", one.needs}});
    }
    Json course;
    if (report.ruler) {
        course = {{"start", report.ruler->start},
                  {"by", words_of(report.ruler->by)},
                  {"seconds", thousandths(report.ruler->seconds)},
                  {"alike", thousandths(report.ruler->alike)}};
    }
    Json raised;
    if (report.raised) {
        raised = {{"mm", report.raised->mm}, {"low", report.raised->low}, {"high", report.raised->high}};
    }
    return written({{"robot", report.robot.name},
                    {"course", course},
                    {"looks", report.looks},
                    {"seconds", thousandths(report.seconds)},
                    {"numbers", numbers},
                    {"untold", untold},
                    {"as_if_raised", raised},
                    {"doubts", report.doubts}});
}

std::string fitted_text(const FittedNumber& number, double value) {
    const double half = std::isfinite(number.high - number.low) ? 0.5 * (number.high - number.low) : 0.0;
    if (!std::isfinite(value)) {
        return fmt::format("{}", value);
    }
    const double size = std::max({std::abs(number.value), std::abs(number.low), std::abs(number.high), 1e-12});
    const double least = size * 5e-5; // more digits than this nobody reads
    const int places = std::clamp(1 - static_cast<int>(std::floor(std::log10(std::max(half, least)))), 0, 9);
    std::string text = fmt::format("{:.{}f}", value, places);
    if (text.find('.') != std::string::npos) {
        text.erase(text.find_last_not_of('0') + 1);
        text.erase(text.back() == '.' ? text.size() - 1 : text.size());
    }
    return text == "-0" ? "0" : text;
}

std::vector<Setting> fitted_changes(const FitReport& report) {
    std::vector<Setting> changes;
    for (const FittedNumber& one : report.numbers) {
        const bool whole_ms = one.key == "delay_ms" || one.key == "delay_varies_ms";
        changes.push_back(
            {Setting::Of::robot, one.key, whole_ms ? fmt::format("{:.0f}", one.value) : fitted_text(one, one.value)});
    }
    const FittedNumber* keep = report.find("drive.keep_pct");
    if (keep != nullptr && report.robot.drive->start_pct < keep->value + 1e-3) { // it may not lie below it
        changes.push_back({Setting::Of::robot, "drive.start_pct", fmt::format("{:.3f}", keep->value + 1e-3)});
    }
    return changes;
}

} // namespace vast_turn
