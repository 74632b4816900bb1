#pragma once

/// From raw counts to readings between 0 (floor) and 1 (line), and to line-or-floor bits.

#include <cstdint>
#include <vector>

#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

/// The levels of one sensor. Line may be darker or lighter than floor: the scale turns with it.
struct SensorLevels {
    double floor_counts = 0.0; ///< raw counts over the floor
    double line_counts = 0.0;  ///< raw counts over the line
    double threshold = 0.5;    ///< reading 0..1 at and above which a sensor sees line
    double hysteresis = 0.0;   ///< a bit goes on at threshold + half of this, off below threshold - half
};

/// Raw counts as a reading: 0 on the floor's level, 1 on the line's, clamped to 0..1. A sensor
/// whose two levels are equal reads 0: it cannot tell anything.
constexpr double scaled(const SensorLevels& levels, double raw_counts) {
    const double span = levels.line_counts - levels.floor_counts;
    if (!(span > 0.0 || span < 0.0)) {
        return 0.0;
    }
    const double s = (raw_counts - levels.floor_counts) / span;
    return s > 0.0 ? (s < 1.0 ? s : 1.0) : 0.0;
}

/// The levels of a whole array, left to right.
struct Calibration {
    std::vector<SensorLevels> sensors;
};

/// Turns one look's raw counts into readings and bits, remembering the bits for the hysteresis.
class LineReader {
public:
    /// At most max_sensors sensors (asserted).
    explicit LineReader(const Calibration& calibration);

    /// Fills `readings` (as many as there are sensors) and returns the pattern.
    Pattern read(const double* raw_counts, double* readings);

private:
    std::vector<SensorLevels> levels_;
    std::uint8_t bits_ = 0;
};

} // namespace vast_turn
