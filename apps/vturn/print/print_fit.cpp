#include "print/print_fit.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "print/print.hpp"
#include "vast_turn/formats/write/fit_text.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

/// How a number stands to what the file says.
std::string against_file(const Robot& robot, const FittedNumber& one) {
    if (one.is_as_filed()) {
        return "";
    }
    if (robot.variation.empty()) {
        return "other than the file";
    }
    return one.is_of_its_days() ? "within its days" : "outside its days";
}

} // namespace

void print_fit(const Streams& streams, const FitReport& report) {
    const Paint paint(streams.colour);
    streams.out << paint.strong(
                       fmt::format("{}: {} looks in {:.1f} s", report.robot.name, report.looks, report.seconds))
                << "\n";
    if (report.ruler) {
        streams.out << fmt::format(
            "on the course for {:.1f} s from {}, by {}: {:.1f} % of what was seen is so on the map\n",
            report.ruler->seconds, report.ruler->start, words_of(report.ruler->by), 100.0 * report.ruler->alike);
    }
    if (!report.numbers.empty()) {
        std::vector<std::vector<std::string>> rows{{"", "file", "logs", "95 % interval", ""}};
        for (const FittedNumber& one : report.numbers) {
            rows.push_back({one.words, fmt::format("{:.6g}", one.filed), fitted_text(one, one.value),
                            fmt::format("{} to {}{}{}", fitted_text(one, one.low), fitted_text(one, one.high),
                                        one.unit.empty() ? "" : " ", one.unit),
                            against_file(report.robot, one)});
        }
        print_columns(streams.out, rows, {1, 2});
    }
    if (report.raised) {
        const RaisedSensors& by = *report.raised;
        const bool up = by.mm > 0.0;
        const double low = std::min(std::abs(by.low), std::abs(by.high));
        const double high = std::max(std::abs(by.low), std::abs(by.high));
        streams.out << fmt::format("  the light of all sensors is as if they sat {:.2g} mm {} ({:.2g} to {:.2g}), were "
                                   "their lamps as they were\n",
                                   std::abs(by.mm), up ? "higher" : "lower", low, high);
    }
    if (!report.untold.empty()) {
        streams.out << "\nnot told by these looks\n";
        std::vector<std::vector<std::string>> rows;
        for (const UntoldNumber& one : report.untold) {
            rows.push_back({"  " + one.words, one.why, "needs: " + one.needs});
        }
        print_columns(streams.out, rows);
    }
    if (!report.doubts.empty()) {
        streams.out << "\n" << paint.bad("this log is not of that robot") << "\n";
        for (const std::string& doubt : report.doubts) {
            streams.out << "  " << doubt << "\n";
        }
    }
}

} // namespace vturn
