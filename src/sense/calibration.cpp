#include "vast_turn/sense/calibration.hpp"

#include <cassert>

namespace vast_turn {

SensorScale::SensorScale(const SensorLevels& levels)
    : floor_(levels.floor_counts), on_from_(levels.threshold + 0.5 * levels.hysteresis),
      off_below_(levels.threshold - 0.5 * levels.hysteresis) {
    const double span = levels.line_counts - levels.floor_counts;
    per_count_ = span > 0.0 || span < 0.0 ? 1.0 / span : 0.0;
}

std::vector<double> even_weights(int sensors) {
    std::vector<double> weights;
    for (int i = 0; i < sensors; ++i) {
        weights.push_back(sensors > 1 ? 1.0 - 2.0 * i / (sensors - 1) : 0.0);
    }
    return weights;
}

LineReader::LineReader(const Calibration& calibration) {
    assert(calibration.sensors.size() <= static_cast<std::size_t>(max_sensors));
    for (const SensorLevels& levels : calibration.sensors) {
        scales_.emplace_back(levels);
    }
}

} // namespace vast_turn
