#pragma once

/// From raw counts to readings between 0 (floor) and 1 (line), and to line-or-floor bits.

#include <cstddef>
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

/// A sensor's levels made ready for many readings.
///
/// A reading is 0 on the floor's level, 1 on the line's, clamped to 0..1. A sensor whose two levels
/// are equal reads 0: it cannot tell anything.
class SensorScale {
public:
    explicit SensorScale(const SensorLevels& levels);

    double reading(double raw_counts) const {
        const double s = (raw_counts - floor_) * per_count_;
        // Two plain choices, no branches: over the floor noise makes the sign of s a coin toss.
        const double above = s > 0.0 ? s : 0.0;
        return above < 1.0 ? above : 1.0;
    }

    /// Whether a reading is line, given whether the one before was.
    bool is_line(double reading, bool was_line) const { return reading >= (was_line ? off_below_ : on_from_); }

private:
    double floor_;
    double per_count_;
    double on_from_;
    double off_below_;
};

/// Weights of an array of which nothing is known: evenly spaced, 1 at the left to -1 at the right.
std::vector<double> even_weights(int sensors);

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
    Pattern read(const double* raw_counts, double* readings) {
        unsigned bits = 0;
        for (std::size_t i = 0; i < scales_.size(); ++i) {
            readings[i] = scales_[i].reading(raw_counts[i]);
            bits |= bit(i, readings[i]);
        }
        return remember(bits);
    }

    /// The pattern of readings that are known already.
    Pattern bits_of(const double* readings) {
        unsigned bits = 0;
        for (std::size_t i = 0; i < scales_.size(); ++i) {
            bits |= bit(i, readings[i]);
        }
        return remember(bits);
    }

private:
    unsigned bit(std::size_t i, double reading) const {
        return static_cast<unsigned>(scales_[i].is_line(reading, ((bits_ >> i) & 1U) != 0)) << i;
    }
    Pattern remember(unsigned bits) {
        bits_ = bits;
        return {static_cast<std::uint8_t>(bits), static_cast<int>(scales_.size())};
    }

    std::vector<SensorScale> scales_;
    unsigned bits_ = 0;
};

} // namespace vast_turn
