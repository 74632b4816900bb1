#include "vast_turn/sense/sweep.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "sense/statistics.hpp"

namespace vast_turn {

namespace {

using Slide = std::vector<const BenchLook*>;

/// The first stretch of looks in a row under one kind of sweep, from left to right.
Slide first_slide(const BenchReadings& readings) {
    Slide slide;
    const auto is_sweep = [](const BenchLook& look) {
        return look.under == under::sweep || look.under == under::sweep_back;
    };
    auto look = std::find_if(readings.looks.begin(), readings.looks.end(), is_sweep);
    if (look == readings.looks.end()) {
        return slide;
    }
    const std::string kind = look->under;
    for (; look != readings.looks.end() && look->under == kind; ++look) {
        slide.push_back(&*look);
    }
    if (kind == under::sweep_back) {
        std::reverse(slide.begin(), slide.end());
    }
    return slide;
}

/// The mean of a few looks round each one, so that noise does not look like another tape.
std::vector<double> smoothed(const std::vector<double>& readings) {
    const auto n = static_cast<std::ptrdiff_t>(readings.size());
    const std::ptrdiff_t reach = n / 60;
    std::vector<double> out;
    for (std::ptrdiff_t i = 0; i < n; ++i) {
        const std::ptrdiff_t from = std::max<std::ptrdiff_t>(0, i - reach);
        const std::ptrdiff_t to = std::min(n, i + reach + 1);
        out.push_back(std::accumulate(readings.begin() + from, readings.begin() + to, 0.0) /
                      static_cast<double>(to - from));
    }
    return out;
}

/// Counts how often a curve rises above three quarters after having been below one quarter.
int passes_in(const std::vector<double>& readings) {
    int passes = 0;
    bool high = false;
    for (const double r : smoothed(readings)) {
        if (!high && r > 0.75) {
            ++passes;
            high = true;
        } else if (high && r < 0.25) {
            high = false;
        }
    }
    return passes;
}

SweepPeak peak_of(const std::vector<double>& readings) {
    SweepPeak peak;
    double sum = 0.0;
    double weighted = 0.0;
    for (std::size_t i = 0; i < readings.size(); ++i) {
        const double above = std::max(0.0, readings[i] - 0.5);
        sum += above;
        weighted += above * static_cast<double>(i);
    }
    peak.seen = sum > 0.0;
    peak.at = peak.seen ? weighted / sum : 0.0;
    peak.passes = passes_in(readings);
    return peak;
}

void judge_order(SweepReport& report) {
    std::vector<int> listed = report.came;
    std::sort(listed.begin(), listed.end());
    if (report.came == listed) {
        return;
    }
    std::vector<int> wrong;
    for (std::size_t i = 0; i < listed.size(); ++i) {
        if (listed[i] != report.came[i]) {
            wrong.push_back(listed[i]);
        }
    }
    const std::vector<int> backwards(listed.rbegin(), listed.rend());
    report.order = SweepOrder::other;
    // Of two sensors, swapped and reversed are one thing.
    if (wrong.size() == 2) {
        report.order = SweepOrder::swapped;
        report.out_of_place = wrong;
    } else if (report.came == backwards) {
        report.order = SweepOrder::reversed;
    }
}

/// Least squares of the moments on the places, without one sensor (or with all): looks for each mm to the left.
Fit fit_without(const std::vector<double>& moments, const std::vector<double>& places, std::size_t without) {
    Sample sample;
    for (std::size_t i = 0; i < moments.size(); ++i) {
        if (i != without) {
            sample.at.push_back(places[i]);
            sample.counts.push_back(moments[i]);
        }
    }
    return fit_of(sample);
}

double misfit(const Fit& fit, const std::vector<double>& moments, const std::vector<double>& places,
              std::size_t without) {
    double sum = 0.0;
    for (std::size_t i = 0; i < moments.size(); ++i) {
        const double off = moments[i] - fit.at_zero - fit.slope * places[i];
        sum += i == without ? 0.0 : off * off;
    }
    return sum;
}

/// The fit without the sensor that fits the others worst: one that lies elsewhere must not bend the
/// line by which it is judged. Of three, any two fit exactly, so there all count.
Fit fair_fit(const std::vector<double>& moments, const std::vector<double>& places) {
    const std::size_t n = moments.size();
    Fit best = fit_without(moments, places, n);
    double least = n > 3 ? misfit(best, moments, places, n) : 0.0;
    for (std::size_t i = 0; i < n && n > 3; ++i) {
        const Fit fit = fit_without(moments, places, i);
        const double rest = misfit(fit, moments, places, i);
        if (rest < least) {
            least = rest;
            best = fit;
        }
    }
    return best;
}

/// Places that the peaks tell. It takes three sensors for a pace and a check.
void judge_places(SweepReport& report, const std::vector<double>& left_mm) {
    const std::size_t n = report.peaks.size();
    if (n < 3 || left_mm.size() != n || report.came.size() != n || report.order != SweepOrder::as_listed) {
        return;
    }
    std::vector<double> moments;
    for (const SweepPeak& peak : report.peaks) {
        moments.push_back(peak.at);
    }
    const Fit fit = fair_fit(moments, left_mm);
    for (std::size_t i = 0; i < n; ++i) {
        const double place = fit.slope < 0.0 ? (moments[i] - fit.at_zero) / fit.slope : left_mm[i];
        report.left_mm.push_back(place);
        report.off_mm.push_back(place - left_mm[i]);
    }
}

} // namespace

std::optional<SweepReport> read_sweep(const BenchReadings& readings, const Calibration& calibration,
                                      const std::vector<bool>& usable, const ArrayFacts& facts) {
    const Slide slide = first_slide(readings);
    if (slide.empty()) {
        return std::nullopt;
    }
    SweepReport report;
    for (std::size_t i = 0; i < readings.channels.size(); ++i) {
        const SensorScale scale(calibration.sensors[i]);
        std::vector<double> curve;
        for (const BenchLook* look : slide) {
            curve.push_back(scale.reading(look->counts[i]));
        }
        report.peaks.push_back(usable[i] ? peak_of(curve) : SweepPeak{});
        report.readings.push_back(std::move(curve));
        if (report.peaks.back().seen) {
            report.came.push_back(static_cast<int>(i) + 1);
        }
    }
    std::stable_sort(report.came.begin(), report.came.end(), [&](int a, int b) {
        return report.peaks[static_cast<std::size_t>(a - 1)].at < report.peaks[static_cast<std::size_t>(b - 1)].at;
    });
    judge_order(report);
    judge_places(report, facts.left_mm);
    return report;
}

} // namespace vast_turn
