#include "print/print_calibration.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "print/print.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

using Rows = std::vector<std::vector<std::string>>;

std::string percent(double share) { return fmt::format("{:+.0f} %", 100.0 * share); }

/// The looks of a hundred thousand that a threshold takes wrong, when there are any to speak of.
std::string basis_words(const SensorReport& s) {
    if (s.basis == ThresholdBasis::midway) {
        return "half way";
    }
    return fmt::format("fewest mistakes ({:.2g} % of looks)", 100.0 * s.error_share);
}

void print_levels(std::ostream& out, const CalibrationReport& report) {
    Rows rows = {{"", "channel", "line", "spread", "floor", "spread", "contrast", "noise", "threshold", "",
                  "hysteresis", "off its neighbours by"}};
    for (std::size_t i = 0; i < report.sensors.size(); ++i) {
        const SensorReport& s = report.sensors[i];
        std::vector<std::string> row = {fmt::format("{}", i + 1),
                                        s.channel,
                                        fmt::format("{:.1f}", s.line.mean),
                                        fmt::format("{:.1f}", s.line.spread),
                                        fmt::format("{:.1f}", s.floor.mean),
                                        fmt::format("{:.1f}", s.floor.spread)};
        if (s.usable) {
            row.insert(row.end(), {fmt::format("{:.0f}", std::abs(s.contrast)), fmt::format("{:.1f}", s.noise),
                                   fmt::format("{:.1f}", s.threshold_counts), basis_words(s),
                                   fmt::format("{:.1f}", s.hysteresis_counts),
                                   fmt::format("{} on line, {} on floor", percent(s.line_off), percent(s.floor_off))});
        } else {
            row.insert(row.end(), {"none", fmt::format("{:.1f}", s.noise), "-", "", "-", "not usable"});
        }
        rows.push_back(std::move(row));
    }
    print_columns(out, rows, {2, 3, 4, 5, 6, 7, 8, 10});
}

std::string seen_words(const MarkerSeen& seen) {
    return fmt::format("{} {:.2f} ({:+.0f})", name_of(seen.as), seen.reading, seen.margin_in_noise);
}

void print_markers(std::ostream& out, const CalibrationReport& report) {
    if (report.markers.empty()) {
        return;
    }
    out << "\nmarkers as the line sensors take them: reading (distance from the threshold, in deviations)\n";
    Rows rows = {{""}};
    for (std::size_t i = 0; i < report.sensors.size(); ++i) {
        rows.front().push_back(fmt::format("{} {}", i + 1, report.sensors[i].channel));
    }
    for (const MarkerLook& marker : report.markers) {
        rows.push_back({marker.colour});
        for (std::size_t i = 0; i < marker.seen.size(); ++i) {
            rows.back().push_back(report.sensors[i].usable ? seen_words(marker.seen[i]) : "-");
        }
    }
    print_columns(out, rows);
}

std::string interval_words(const MarkerRule& rule) {
    const std::string ratio = fmt::format("{} / clear", colour_channel_names[rule.channel]);
    if (rule.low <= 0.0) {
        return fmt::format("{} below {:.3f}", ratio, rule.high);
    }
    return rule.high >= 9.0 ? fmt::format("{} above {:.3f}", ratio, rule.low)
                            : fmt::format("{} from {:.3f} to {:.3f}", ratio, rule.low, rule.high);
}

void print_colour_rules(std::ostream& out, const CalibrationReport& report) {
    if (report.colour_rules.empty()) {
        return;
    }
    out << "\nmarkers as the colour sensor takes them\n";
    Rows rows;
    for (const MarkerRule& rule : report.colour_rules) {
        rows.push_back({rule.colour, interval_words(rule),
                        fmt::format("margin {:.1f} deviations to {}{}", rule.margin, rule.nearest,
                                    rule.not_told_from.empty()
                                        ? ""
                                        : fmt::format("; not told from {}", fmt::join(rule.not_told_from, ", ")))});
    }
    print_columns(out, rows);
}

void print_sweep(std::ostream& out, const SweepReport& sweep) {
    out << fmt::format("\nsweep: the tape came to the sensors in the order {}\n", fmt::join(sweep.came, ", "));
    if (!sweep.off_mm.empty()) {
        std::vector<std::string> places;
        for (std::size_t i = 0; i < sweep.off_mm.size(); ++i) {
            places.push_back(fmt::format("{:.1f} ({:+.1f})", sweep.left_mm[i], sweep.off_mm[i]));
        }
        out << fmt::format("  places to the left by the sweep, mm (against the robot file): {}\n",
                           fmt::join(places, ", "));
    }
}

} // namespace

void print_calibration(const Streams& streams, const CalibrationReport& report, const std::string& about) {
    const Paint paint(streams.colour);
    std::ostream& out = streams.out;
    const SensorReport& first = report.sensors.front();
    out << paint.strong(fmt::format("calibration of {}", about)) << "\n"
        << fmt::format("  {} looks over line, {} over floor; line gives {} counts than floor\n\n", first.line.looks,
                       first.floor.looks, report.line_is_lighter ? "more" : "fewer");
    print_levels(out, report);
    print_markers(out, report);
    print_colour_rules(out, report);
    if (report.sweep) {
        print_sweep(out, *report.sweep);
    }
    out << "\n";
    if (report.verdicts.empty()) {
        out << paint.good("nothing to complain of") << "\n";
    }
    for (const Verdict& v : report.verdicts) {
        out << fmt::format("{} {}\n         to do: {}\n", v.serious ? paint.bad("serious:") : paint.strong("mind:   "),
                           v.says, v.to_do);
    }
}

} // namespace vturn
