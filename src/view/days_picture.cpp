#include "vast_turn/view/days_picture.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/robot/day.hpp"
#include "view/canvas.hpp"

namespace vast_turn {

namespace {

constexpr double days_top = 112.0;
constexpr double days_bottom = page_height - 30.0;
constexpr double strip_left = 330.0;
constexpr double strip_right = page_width - 260.0;
constexpr Ink held_ink{{38, 112, 72}, 0.42};
constexpr Ink failed_ink{{186, 40, 52}, 0.85};
constexpr Ink borne_ink{{38, 112, 72}, 0.10};

/// The days that were driven, as they are drawn.
std::vector<DayOutcome> days_of(const TripCase& one, const CaseReport& report) {
    constexpr std::uint64_t most = 2000;
    const Robot& robot = one.scene->robot();
    const DaysTaken& taken = *report.days;
    std::vector<DayOutcome> days;
    for (std::uint64_t i = 0; i < std::min<std::uint64_t>(most, static_cast<std::uint64_t>(report.runs)); ++i) {
        const std::uint64_t day = taken.first + i;
        const bool failed = std::binary_search(taken.failed.begin(), taken.failed.end(), day);
        days.push_back(
            {draw_day(telling_variation(robot), report.result.run.seed, day, robot.sensors.size()), !failed});
    }
    return days;
}

/// A row's place on the page, and its scale.
struct DaysStrip {
    double upper = 0.0;
    double height = 0.0;
    double low = 0.0;
    double high = 1.0;

    double x_of(double value) const {
        return strip_left + (strip_right - strip_left) * std::clamp((value - low) / (high - low), 0.0, 1.0);
    }
    double middle() const { return upper + 0.5 * height + 4.0; }
};

class DaysDrawing {
public:
    DaysDrawing(Canvas& canvas, const CaseReport& report, std::vector<DayOutcome> days)
        : canvas_(canvas), report_(report), days_(std::move(days)), series_(series_of_days(days_)) {
        const std::vector<Cause>& causes = report.days->causes;
        const auto is_cause = [&](const DaySeries& one) {
            return std::any_of(causes.begin(), causes.end(), [&](const Cause& c) { return c.quantity == one.name; });
        };
        // What breaks it comes first; ratios only where they do.
        std::erase_if(series_, [&](const DaySeries& one) {
            return one.name.find(" against ") != std::string::npos && !is_cause(one);
        });
        std::stable_partition(series_.begin(), series_.end(), is_cause);
        row_ = std::min(64.0, (days_bottom - days_top) / static_cast<double>(std::max<std::size_t>(1, series_.size())));
    }

    void draw(const TripCase& one, const Pilot& pilot) {
        title(one, pilot);
        double y = days_top;
        for (const DaySeries& series : series_) {
            strip(series, y);
            y += row_;
        }
    }

private:
    void title(const TripCase& one, const Pilot& pilot) {
        const TextStyle head{20.0, ink::text, Align::left, true};
        canvas_.text({page_margin, 36.0},
                     canvas_.fitted(fmt::format("{}: {} on {}", one.trip.name, one.scene->robot().name, pilot.name()),
                                    page_width - 2.0 * page_margin, head),
                     head);
        canvas_.text({page_margin, 60.0},
                     fmt::format("holds on {} of {} days: {:.3g} to {:.3g} %, as surely as 95 of 100", report_.passed,
                                 report_.runs, 100.0 * report_.days->share.low, 100.0 * report_.days->share.high),
                     {14.0});
        canvas_.dot({page_margin + 5.0, 82.0}, 4.0, failed_ink);
        canvas_.text({page_margin + 16.0, 87.0}, "a day on which it failed", {13.0});
        canvas_.dot({page_margin + 205.0, 82.0}, 4.0, held_ink);
        canvas_.text({page_margin + 216.0, 87.0}, "on which it held", {13.0});
        canvas_.line({{page_margin + 360.0, 82.0}, {page_margin + 386.0, 82.0}}, ink::alarm, 1.5, true);
        canvas_.text({page_margin + 394.0, 87.0}, "beyond it failures are frequenter", {13.0});
        if (report_.days->margins && report_.days->margins->holds) {
            canvas_.fill_rect({page_margin + 640.0, 74.0}, {26.0, 16.0}, borne_ink);
            canvas_.text({page_margin + 674.0, 87.0}, "borne, all else ideal", {13.0});
        }
    }

    void strip(const DaySeries& series, double y) {
        const auto [least, most] = std::minmax_element(series.values.begin(), series.values.end());
        const double room = std::max(1e-9, *most - *least);
        const DaysStrip row{y + 3.0, row_ - 6.0, *least - 0.02 * room, *most + 0.02 * room};
        borne(series, row);
        canvas_.line({{strip_left, row.upper + row.height}, {strip_right, row.upper + row.height}},
                     {ink::faint.colour, 0.35}, 1.0);
        const double dot = std::clamp(0.09 * row.height, 1.2, 3.0);
        for (const bool failures : {false, true}) { // those on upper
            for (std::size_t i = 0; i < days_.size(); ++i) {
                if (days_[i].passed == failures) {
                    continue;
                }
                // Spread by the day, so that equal values lie beside each other.
                const double spread = std::fmod(0.618034 * static_cast<double>(i), 1.0);
                const double from = failures ? 0.08 : 0.52;
                canvas_.dot({row.x_of(series.values[i]), row.upper + row.height * (from + 0.4 * spread)}, dot,
                            failures ? failed_ink : held_ink);
            }
        }
        const std::string unit = series.unit.empty() ? "" : ", " + series.unit;
        const double middle = row.middle();
        const bool told = bounds(series, row);
        const double size = std::clamp(0.36 * row_, 9.0, 13.0);
        canvas_.text({page_margin, middle},
                     canvas_.fitted(series.name + unit, 210.0, {size, ink::text, Align::left, told}),
                     {size, ink::text, Align::left, told});
        canvas_.text({strip_left - 10.0, middle}, fmt::format("{:.3g}", *least), {11.0, ink::faint, Align::right});
        canvas_.text({strip_right + 10.0, middle}, fmt::format("{:.3g}", *most), {11.0, ink::faint});
    }

    bool bounds(const DaySeries& series, const DaysStrip& row) {
        bool told = false;
        for (const Cause& cause : report_.days->causes) {
            if (cause.quantity != series.name) {
                continue;
            }
            told = true;
            std::vector<double> at{cause.bound};
            if (cause.both_ways) {
                at = {cause.usual - cause.bound, cause.usual + cause.bound};
            }
            for (const double bound : at) {
                const double x = row.x_of(bound);
                canvas_.line({{x, row.upper}, {x, row.upper + row.height}}, ink::alarm, 1.5, true);
            }
            canvas_.text({strip_right + 60.0, row.middle()},
                         fmt::format("{} of {} failures", cause.failures, cause.of_failures), {12.0, ink::alarm});
        }
        return told;
    }

    void borne(const DaySeries& series, const DaysStrip& row) {
        if (!report_.days->margins) {
            return;
        }
        for (const Margin& margin : report_.days->margins->margins) {
            if (margin.quantity == series.name) {
                const double from = row.x_of(margin.low.value_or(row.low));
                const double to = row.x_of(margin.high.value_or(row.high));
                canvas_.fill_rect({from, row.upper}, {to - from, row.height}, borne_ink);
            }
        }
    }

    Canvas& canvas_;
    const CaseReport& report_;
    std::vector<DayOutcome> days_;
    std::vector<DaySeries> series_;
    double row_ = 30.0;
};

} // namespace

std::string draw_days(const TripCase& one, const Pilot& pilot, const CaseReport& report, PictureFormat format) {
    assert(report.days && report.runs > 0);
    return draw_page(format,
                     [&](Canvas& canvas) { DaysDrawing(canvas, report, days_of(one, report)).draw(one, pilot); });
}

} // namespace vast_turn
