#include "vast_turn/sense/calibration.hpp"

#include <cassert>

namespace vast_turn {

LineReader::LineReader(const Calibration& calibration) : levels_(calibration.sensors) {
    assert(levels_.size() <= static_cast<std::size_t>(max_sensors));
}

Pattern LineReader::read(const double* raw_counts, double* readings) {
    std::uint8_t bits = 0;
    for (std::size_t i = 0; i < levels_.size(); ++i) {
        readings[i] = scaled(levels_[i], raw_counts[i]);
        const bool was_line = ((bits_ >> i) & 1U) != 0;
        const double half = 0.5 * levels_[i].hysteresis;
        if (readings[i] >= levels_[i].threshold + (was_line ? -half : half)) {
            bits = static_cast<std::uint8_t>(bits | (1U << i));
        }
    }
    bits_ = bits;
    return {bits, static_cast<int>(levels_.size())};
}

} // namespace vast_turn
