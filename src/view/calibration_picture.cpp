#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/view/picture.hpp"
#include "view/canvas.hpp"

namespace vast_turn {

namespace {

constexpr Ink on_line{{44, 62, 92}, 1.0};
constexpr Ink on_floor{{206, 140, 40}, 1.0};
constexpr double top = 92.0;
constexpr double levels_height = 330.0;
constexpr double sweep_top = top + levels_height + 70.0;
constexpr double sweep_bottom = page_height - 64.0;

/// Told apart by colour-blind eyes too, and named at their peaks.
constexpr std::array<Rgb, 8> sensor_colours = {{{0, 114, 178},
                                                {213, 94, 0},
                                                {0, 158, 115},
                                                {204, 121, 167},
                                                {150, 120, 0},
                                                {86, 180, 233},
                                                {110, 70, 40},
                                                {60, 60, 60}}};

/// One sensor's column: counts upwards, how often each came to the right.
class LevelColumn {
public:
    LevelColumn(Canvas& canvas, const SensorReport& sensor, double x, double width)
        : canvas_(canvas), sensor_(sensor), x_(x), width_(width) {}

    void draw(const BenchReadings& readings, std::size_t i, bool bad) {
        canvas_.fill_rect({x_, top}, {width_, levels_height}, {{255, 255, 255}, 1.0});
        histogram(readings, i, under::floor, on_floor);
        histogram(readings, i, under::line, on_line);
        canvas_.frame({x_, top}, {width_, levels_height}, bad ? ink::alarm : ink::faint, bad ? 2.0 : 1.0);
        if (sensor_.usable) {
            level(sensor_.floor.mean, "floor", on_floor);
            level(sensor_.line.mean, "line", on_line);
            threshold();
        } else {
            level(0.5 * (sensor_.floor.mean + sensor_.line.mean), "both", ink::alarm);
        }
        const std::string name = fmt::format("{}  {}", i + 1, sensor_.channel);
        canvas_.text({x_ + 2.0, top - 8.0}, name, {14.0, bad ? ink::alarm : ink::text, Align::left, true});
        canvas_.text({x_ + width_, top - 8.0}, fmt::format("to {:.0f}", sensor_.adc_max),
                     {11.0, ink::faint, Align::right});
        const std::string foot =
            sensor_.usable ? fmt::format("contrast {:.0f}, noise {:.1f}", std::abs(sensor_.contrast), sensor_.noise)
                           : std::string("tells nothing apart");
        canvas_.text({x_ + 0.5 * width_, top + levels_height + 17.0}, canvas_.fitted(foot, width_ + 8.0, {12.0}),
                     {12.0, sensor_.usable ? ink::faint : ink::alarm, Align::middle});
    }

private:
    double y_of(double counts) const {
        return top + levels_height - 6.0 - counts / sensor_.adc_max * (levels_height - 12.0);
    }

    void histogram(const BenchReadings& readings, std::size_t i, const char* what, Ink colour) {
        constexpr std::size_t bins = 110;
        std::array<int, bins> hits{};
        int most = 1;
        for (const BenchLook& look : readings.looks) {
            if (look.under == what) {
                const double part = std::clamp(look.counts[i] / sensor_.adc_max, 0.0, 1.0);
                int& hit = hits[static_cast<std::size_t>(part * (bins - 1) + 0.5)];
                most = std::max(most, ++hit);
            }
        }
        const double bar = (levels_height - 12.0) / (bins - 1);
        for (std::size_t b = 0; b < bins; ++b) {
            if (hits[b] > 0) {
                const double y = top + levels_height - 6.0 - static_cast<double>(b) * bar;
                canvas_.fill_rect({x_ + 1.0, y - 0.5 * bar}, {0.62 * width_ * hits[b] / most, bar},
                                  {colour.colour, 0.75});
            }
        }
    }

    void level(double counts, const char* name, Ink colour) {
        const double y = y_of(counts);
        canvas_.text({x_ + width_ - 5.0, y + 4.0}, fmt::format("{} {:.0f}", name, counts),
                     {12.0, colour, Align::right, true, false, true});
    }

    void threshold() {
        const double y = y_of(sensor_.threshold_counts);
        const double half = 0.5 * sensor_.hysteresis_counts / sensor_.adc_max * (levels_height - 12.0);
        canvas_.fill_rect({x_ + 1.0, y - half}, {width_ - 2.0, 2.0 * half}, {ink::fern.colour, 0.22});
        canvas_.line({{x_, y}, {x_ + width_, y}}, ink::fern, 2.0);
        canvas_.text({x_ + width_ - 5.0, y - 5.0 - half}, fmt::format("{:.0f}", sensor_.threshold_counts),
                     {12.0, ink::fern, Align::right, true, false, true});
    }

    Canvas& canvas_;
    const SensorReport& sensor_;
    double x_;
    double width_;
};

bool is_bad(const CalibrationReport& report, int sensor) {
    return std::any_of(report.verdicts.begin(), report.verdicts.end(), [sensor](const Verdict& v) {
        return std::find(v.sensors.begin(), v.sensors.end(), sensor) != v.sensors.end();
    });
}

void draw_levels(Canvas& canvas, const BenchReadings& readings, const CalibrationReport& report) {
    const auto n = static_cast<double>(report.sensors.size());
    constexpr double gap = 18.0;
    const double width = std::min(236.0, (page_width - 2.0 * page_margin - (n - 1.0) * gap) / n);
    for (std::size_t i = 0; i < report.sensors.size(); ++i) {
        const double x = page_margin + static_cast<double>(i) * (width + gap);
        LevelColumn(canvas, report.sensors[i], x, width).draw(readings, i, is_bad(report, static_cast<int>(i) + 1));
    }
}

void draw_sweep(Canvas& canvas, const CalibrationReport& report) {
    const SweepReport& sweep = *report.sweep;
    const double left = page_margin + 40.0;
    const double width = page_width - page_margin - left;
    const double height = sweep_bottom - sweep_top;
    canvas.fill_rect({left, sweep_top}, {width, height}, {{255, 255, 255}, 1.0});
    canvas.line({{left, sweep_top + 0.5 * height}, {left + width, sweep_top + 0.5 * height}}, {ink::fern.colour, 0.6},
                1.0, true);
    canvas.frame({left, sweep_top}, {width, height}, ink::faint, 1.0);
    canvas.text({left - 6.0, sweep_top + 5.0}, "line", {12.0, ink::faint, Align::right});
    canvas.text({left - 6.0, sweep_bottom + 4.0}, "floor", {12.0, ink::faint, Align::right});
    const auto looks = static_cast<double>(sweep.readings.front().size());
    const auto x_of = [&](double look) { return left + width * look / std::max(1.0, looks - 1.0); };
    for (std::size_t i = 0; i < sweep.readings.size(); ++i) {
        std::vector<Vec2> curve;
        for (std::size_t k = 0; k < sweep.readings[i].size(); ++k) {
            curve.push_back({x_of(static_cast<double>(k)), sweep_bottom - height * sweep.readings[i][k]});
        }
        canvas.line(curve, {sensor_colours[i], 0.9}, 2.0);
    }
    for (std::size_t i = 0; i < sweep.peaks.size(); ++i) {
        if (sweep.peaks[i].seen) {
            const double x = x_of(sweep.peaks[i].at);
            canvas.text({x, sweep_top - 7.0}, fmt::format("{} {}", i + 1, report.sensors[i].channel),
                        {13.0, {sensor_colours[i], 1.0}, Align::middle, true});
        }
    }
    canvas.text({left, sweep_bottom + 20.0},
                "the sweep, look by look: the tape passes from the left end of the array to the right end",
                {12.0, ink::faint});
}

void draw_worst_verdict(Canvas& canvas, const CalibrationReport& report) {
    const bool fine = report.verdicts.empty();
    std::string words = fine ? std::string("nothing to complain of") : report.verdicts.front().says;
    if (report.verdicts.size() > 1) {
        words += fmt::format("; and {} more", report.verdicts.size() - 1);
    }
    const TextStyle style{14.0, fine ? ink::fern : ink::alarm};
    canvas.text({page_margin, 60.0}, canvas.fitted(words, page_width - 2.0 * page_margin, style), style);
}

} // namespace

std::string draw_calibration(const BenchReadings& readings, const CalibrationReport& report, const std::string& about,
                             PictureFormat format) {
    return draw_page(format, [&](Canvas& canvas) {
        const TextStyle title{20.0, ink::text, Align::left, true};
        canvas.text({page_margin, 36.0},
                    canvas.fitted(fmt::format("Calibration of {}", about), page_width - 2.0 * page_margin, title),
                    title);
        draw_worst_verdict(canvas, report);
        draw_levels(canvas, readings, report);
        if (report.sweep) {
            draw_sweep(canvas, report);
        }
    });
}

} // namespace vast_turn
