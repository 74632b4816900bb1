#include "vast_turn/sense/array_reader.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace vast_turn {

std::vector<double> even_weights(int sensors) {
    std::vector<double> weights;
    for (int i = 0; i < sensors; ++i) {
        weights.push_back(sensors > 1 ? 1.0 - 2.0 * i / (sensors - 1) : 0.0);
    }
    return weights;
}

std::vector<double> position_weights(const std::vector<double>& left_mm) {
    double outermost = 0.0;
    for (const double left : left_mm) {
        outermost = std::max(outermost, std::abs(left));
    }
    std::vector<double> weights;
    for (const double left : left_mm) {
        weights.push_back(outermost > 0.0 ? left / outermost : 0.0);
    }
    return weights;
}

ArrayReader::ArrayReader(const std::vector<double>& left_mm, const Calibration& calibration,
                         runtime::NumberKind numbers)
    : scale_(calibration.sensors.data(), static_cast<int>(calibration.sensors.size())),
      short_scale_(calibration.sensors.data(), static_cast<int>(calibration.sensors.size())), numbers_(numbers) {
    assert(left_mm.size() == calibration.sensors.size() && left_mm.size() <= weights_.size());
    const std::vector<double> weights = position_weights(left_mm);
    std::copy(weights.begin(), weights.end(), weights_.begin());
    const int count = sensors();
    for (int bits = 0; bits < pattern_count(count); ++bits) {
        side_[static_cast<std::size_t>(bits)] =
            side_of_line(static_cast<std::uint8_t>(bits), left_mm.data(), count, 0.0);
    }
}

ArrayReader::ArrayReader(int sensors) : ArrayReader(even_weights(sensors), calibration_of_readings(sensors)) {}

void ArrayReader::from_counts_in_float(Look& look) {
    finish<runtime::Binary32>(look, short_scale_.read(look.raw, look.sensor), sensors());
}

void ArrayReader::from_readings(Look& look) {
    for (int i = 0; i < sensors(); ++i) {
        look.sensor[i] = std::clamp(look.sensor[i], 0.0, 1.0);
    }
    const bool is_short = numbers_ == runtime::NumberKind::binary32;
    finish(look, is_short ? short_scale_.bits_of(look.sensor) : scale_.bits_of(look.sensor), sensors());
}

void ArrayReader::from_pattern(Look& look, Pattern pattern) {
    for (int i = 0; i < pattern.count; ++i) {
        look.sensor[i] = (pattern.bits >> i) & 1;
    }
    finish(look, pattern.bits, pattern.count);
}

} // namespace vast_turn
