#include "fit/sensor_light.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

namespace {

/// A calibration says of how many looks its levels are the mean of in none of its forms: of fifty, say.
constexpr double looks_of_levels = 50.0;

} // namespace

std::optional<SensorLight> light_of(const SensorFit& sensor, const SensorLevels& then, const LineSensor& filed) {
    const bool at_end = sensor.level + 3.0 * sensor.noise >= filed.adc_max || sensor.level <= 3.0 * sensor.noise;
    if (at_end || !(then.floor_counts > 0.0) || !(then.line_counts > 0.0)) {
        return std::nullopt;
    }
    const double by_floor = std::log(sensor.level / then.floor_counts);
    const double by_line = std::log(sensor.level / then.line_counts);
    constexpr double clearly = 0.4; // of what lies between them, so that the other is half as far again
    const double changed = std::min(std::abs(by_floor), std::abs(by_line));
    if (changed > clearly * std::abs(by_floor - by_line)) {
        return std::nullopt;
    }
    const double level_then = std::abs(by_floor) < std::abs(by_line) ? then.floor_counts : then.line_counts;
    const double error_then = sensor.noise / std::sqrt(looks_of_levels);
    SensorLight light;
    light.part = std::pow(sensor.level / level_then, 1.0 / filed.curve);
    light.error = light.part / filed.curve * std::hypot(sensor.level_error / sensor.level, error_then / level_then);
    return light;
}

std::optional<RaisedSensors> raised_alike(const Robot& filed, const std::vector<std::optional<SensorLight>>& lights) {
    constexpr double own_part = 0.004; // of its light by which one sensor differs from itself at another place
    double weights = 0.0;
    double sum = 0.0;
    std::vector<std::pair<double, double>> each; // mm, and its error
    for (std::size_t k = 0; k < filed.sensors.size(); ++k) {
        const double height = filed.sensors[k].height_mm;
        if (k >= lights.size() || !lights[k] || !(height > 0.0) || !(lights[k]->part > 0.0)) {
            return std::nullopt;
        }
        const double times = 1.0 / std::sqrt(lights[k]->part);
        const double error = 0.5 * height * times * std::hypot(lights[k]->error / lights[k]->part, own_part);
        each.emplace_back(height * (times - 1.0), error);
        weights += 1.0 / (error * error);
        sum += each.back().first / (error * error);
    }
    const double mm = sum / weights;
    const double half = 2.0 / std::sqrt(weights);
    const bool agree = std::all_of(each.begin(), each.end(),
                                   [&](const auto& one) { return std::abs(one.first - mm) < 3.0 * one.second; });
    if (each.size() < 2 || !agree || std::abs(mm) < 2.0 * half) {
        return std::nullopt;
    }
    return RaisedSensors{mm, mm - half, mm + half};
}

} // namespace vast_turn
