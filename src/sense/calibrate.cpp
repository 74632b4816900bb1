#include "vast_turn/sense/calibrate.hpp"

#include <algorithm>
#include <cmath>

#include "sense/statistics.hpp"
#include "sense/verdicts.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

constexpr double rare = 1e-9; // mistakes below this share need no better threshold than half way

double beyond(double deviations) { return 0.5 * std::erfc(deviations / std::sqrt(2.0)); }

Sample sample_of(const BenchReadings& readings, std::size_t sensor, const std::string& what) {
    Sample sample;
    for (std::size_t i = 0; i < readings.looks.size(); ++i) {
        if (readings.looks[i].under == what) {
            sample.at.push_back(static_cast<double>(i));
            sample.counts.push_back(readings.looks[i].counts[sensor]);
        }
    }
    return sample;
}

LevelReport level_of(const Sample& sample, double adc_max) {
    LevelReport level;
    level.looks = static_cast<int>(sample.counts.size());
    level.mean = mean_of(sample.counts);
    level.spread = deviation_of(sample.counts);
    level.noise = successive_noise(sample.counts);
    const Fit fit = fit_of(sample);
    const double duration = sample.at.empty() ? 0.0 : sample.at.back() - sample.at.front();
    level.drift = fit.slope * duration;
    level.drift_error = fit.slope_error * duration;
    const auto clipped = std::count_if(sample.counts.begin(), sample.counts.end(),
                                       [adc_max](double c) { return c <= 0.0 || c >= adc_max; });
    level.clipped = static_cast<double>(clipped) / std::max(1.0, static_cast<double>(level.looks));
    return level;
}

void set_threshold(SensorReport& sensor) {
    const LevelReport& line = sensor.line;
    const LevelReport& floor = sensor.floor;
    sensor.threshold_counts = 0.5 * (line.mean + floor.mean);
    sensor.error_share = error_share(sensor.threshold_counts, line.mean, line.spread, floor.mean, floor.spread);
    if (sensor.error_share > rare) {
        const double better = least_error_threshold(line.mean, line.spread, floor.mean, floor.spread);
        const double share = error_share(better, line.mean, line.spread, floor.mean, floor.spread);
        if (share < sensor.error_share) {
            sensor.threshold_counts = better;
            sensor.error_share = share;
            sensor.basis = ThresholdBasis::least_error;
        }
    }
    sensor.hysteresis_counts = std::min(6.0 * sensor.noise, std::abs(sensor.contrast) / 3.0);
}

SensorReport sensor_report(const BenchReadings& readings, const ArrayFacts& facts, std::size_t i) {
    SensorReport sensor;
    sensor.channel = readings.channels[i];
    sensor.adc_max = facts.adc_max[i];
    sensor.line = level_of(sample_of(readings, i, under::line), sensor.adc_max);
    sensor.floor = level_of(sample_of(readings, i, under::floor), sensor.adc_max);
    sensor.contrast = sensor.floor.mean - sensor.line.mean;
    sensor.noise = std::max(sensor.line.noise, sensor.floor.noise);
    // Two levels are the same when they differ by less than chance makes of so many looks, or by
    // next to nothing of the range.
    const double looks = std::max(1.0, static_cast<double>(std::min(sensor.line.looks, sensor.floor.looks)));
    const double by_chance = 5.0 * std::max(sensor.line.spread, sensor.floor.spread) * std::sqrt(2.0 / looks);
    sensor.usable = std::abs(sensor.contrast) > std::max(by_chance, 0.02 * sensor.adc_max);
    set_threshold(sensor);
    return sensor;
}

/// Levels as parts of the range against the array's middle ones.
void compare_with_neighbours(std::vector<SensorReport>& sensors) {
    std::vector<double> line;
    std::vector<double> floor;
    std::vector<double> contrast;
    for (const SensorReport& s : sensors) {
        if (s.usable) {
            line.push_back(s.line.mean / s.adc_max);
            floor.push_back(s.floor.mean / s.adc_max);
            contrast.push_back(std::abs(s.contrast) / s.adc_max);
        }
    }
    const double typical = median_of(contrast);
    for (SensorReport& s : sensors) {
        if (s.usable && typical > 0.0) {
            s.line_off = (s.line.mean / s.adc_max - median_of(line)) / typical;
            s.floor_off = (s.floor.mean / s.adc_max - median_of(floor)) / typical;
        }
    }
}

void demand(const BenchReadings& readings, const char* what, const char* how) {
    const bool there = std::any_of(readings.looks.begin(), readings.looks.end(),
                                   [what](const BenchLook& look) { return look.under == what; });
    if (!there) {
        throw InputError("", std::string("the readings have no look over ") + what, how);
    }
}

} // namespace

ArrayFacts with_ranges(ArrayFacts facts, const BenchReadings& readings) {
    if (!facts.adc_max.empty()) {
        return facts;
    }
    const auto range_for = [](double largest) {
        double range = 255.0;
        for (const double next : {1023.0, 4095.0, 16383.0, 65535.0}) {
            range = largest > range ? next : range;
        }
        return range;
    };
    std::vector<double> largest(readings.channels.size(), 0.0);
    for (const BenchLook& look : readings.looks) {
        for (std::size_t i = 0; i < largest.size(); ++i) {
            largest[i] = std::max(largest[i], look.counts[i]);
        }
    }
    const double common = range_for(median_of(largest));
    for (const double most : largest) {
        facts.adc_max.push_back(std::max(common, range_for(most)));
    }
    return facts;
}

double error_share(double threshold, double mean_a, double deviation_a, double mean_b, double deviation_b) {
    const auto missed = [](double inside, double deviation) {
        return deviation > 0.0 ? beyond(inside / deviation) : (inside > 0.0 ? 0.0 : 1.0);
    };
    const double sign = mean_a < mean_b ? 1.0 : -1.0;
    return 0.5 * missed(sign * (threshold - mean_a), deviation_a) +
           0.5 * missed(sign * (mean_b - threshold), deviation_b);
}

double least_error_threshold(double mean_a, double deviation_a, double mean_b, double deviation_b) {
    const double midway = 0.5 * (mean_a + mean_b);
    if (!(deviation_a > 0.0) || !(deviation_b > 0.0)) {
        return midway;
    }
    // With x counted from mean_a: (x/sa)^2/2 + ln sa = ((x - d)/sb)^2/2 + ln sb.
    const double d = mean_b - mean_a;
    const double pa = 1.0 / (deviation_a * deviation_a);
    const double pb = 1.0 / (deviation_b * deviation_b);
    const double a = 0.5 * (pa - pb);
    const double b = d * pb;
    const double c = -0.5 * d * d * pb + std::log(deviation_a / deviation_b);
    const double under_root = b * b - 4.0 * a * c;
    if (under_root < 0.0) {
        return midway;
    }
    // The root between the means is the one that stays finite when the deviations become equal.
    const double x = -2.0 * c / (b + std::copysign(std::sqrt(under_root), b));
    const double part = x / d;
    return part > 0.0 && part < 1.0 ? mean_a + x : midway;
}

Calibration CalibrationReport::calibration() const {
    Calibration out;
    for (const SensorReport& s : sensors) {
        SensorLevels levels;
        levels.floor_counts = levels.line_counts = s.floor.mean;
        if (s.usable) {
            levels.line_counts = s.line.mean;
            levels.threshold = (s.floor.mean - s.threshold_counts) / s.contrast;
            levels.hysteresis = s.hysteresis_counts / std::abs(s.contrast);
        }
        out.sensors.push_back(levels);
    }
    return out;
}

bool CalibrationReport::any_serious() const {
    return std::any_of(verdicts.begin(), verdicts.end(), [](const Verdict& v) { return v.serious; });
}

CalibrationReport calibrate(const BenchReadings& readings, const ArrayFacts& given) {
    demand(readings, under::line, "hold all sensors over the tape and record some looks with `line` under the array");
    demand(readings, under::floor,
           "hold all sensors over the floor and record some looks with `floor` under the array");
    const ArrayFacts facts = with_ranges(given, readings);
    CalibrationReport report;
    std::vector<bool> usable;
    int lighter = 0;
    for (std::size_t i = 0; i < readings.channels.size(); ++i) {
        report.sensors.push_back(sensor_report(readings, facts, i));
        usable.push_back(report.sensors.back().usable);
        lighter += usable.back() ? (report.sensors.back().contrast < 0.0 ? 1 : -1) : 0;
    }
    report.line_is_lighter = lighter > 0;
    compare_with_neighbours(report.sensors);
    report.markers = marker_looks(readings, report.calibration(), usable);
    report.colour_rules = marker_rules(readings);
    report.sweep = read_sweep(readings, report.calibration(), usable, facts);
    report.verdicts = verdicts_on(report, facts);
    return report;
}

} // namespace vast_turn
