#pragma once

/// From raw counts to readings between 0 (floor) and 1 (line), and to line-or-floor bits.
///
/// Freestanding: no library, no heap, so that the same lines run on a robot.

#include <cstdint>

#include "vast_turn/runtime/arithmetic.hpp"
#include "vast_turn/runtime/look.hpp"

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
/// are equal reads 0: it cannot tell anything. `Numbers` is how it computes: BasicSensorScale<runtime::Binary32> reads
/// what a chip reads that computes in `float`.
template <class Numbers> class BasicSensorScale {
public:
    /// Of a sensor that cannot tell anything.
    constexpr BasicSensorScale() = default;
    constexpr explicit BasicSensorScale(const SensorLevels& levels)
        : floor_(Numbers::kept(levels.floor_counts)),
          on_from_(Numbers::kept(levels.threshold + 0.5 * levels.hysteresis)),
          off_below_(Numbers::kept(levels.threshold - 0.5 * levels.hysteresis)) {
        const double span = Numbers::kept(Numbers::kept(levels.line_counts) - floor_);
        per_count_ = span > 0.0 || span < 0.0 ? Numbers::kept(1.0 / span) : 0.0;
    }

    /// The reading 0..1 for raw counts; counts beyond the two levels read 0 or 1.
    constexpr double reading(double raw_counts) const {
        const double s = Numbers::kept(Numbers::kept(raw_counts - floor_) * per_count_);
        // Two plain choices, no branches: over the floor noise makes the sign of s a coin toss.
        const double above = s > 0.0 ? s : 0.0;
        return above < 1.0 ? above : 1.0;
    }

    /// What reading() and is_line() reckon with: counts over the floor, readings per count, the reading from which a
    /// bit goes on, and that below which it goes off.
    constexpr double floor_counts() const { return floor_; }
    constexpr double per_count() const { return per_count_; }
    constexpr double on_from() const { return on_from_; }
    constexpr double off_below() const { return off_below_; }

    /// Whether a reading is line, given whether the one before was.
    constexpr bool is_line(double reading, bool was_line) const {
        return reading >= (was_line ? off_below_ : on_from_);
    }

private:
    /// Counts over the floor; readings per count, with the sign of the scale.
    double floor_ = 0.0;
    double per_count_ = 0.0;
    /// The reading from which a bit goes on, and below which it goes off.
    double on_from_ = 0.5;
    double off_below_ = 0.5;
};

/// One that computes in `double`.
using SensorScale = BasicSensorScale<runtime::Binary64>;

/// The scales of an array, left to right, and the bits of the look before, which the hysteresis needs. Use one for
/// one sequence of looks. On the robot, where `levels` come out of a calibration and `counts` from the converter:
///
///     ArrayScale scale(levels, 5);
///     look.line_bits = scale.read(counts, look.sensor);
///
/// It takes no memory but its own and never fails: levels that tell nothing read 0, counts that are no number too.
template <class Numbers> class BasicArrayScale {
public:
    /// `count` levels, at most max_sensors (more are left out).
    constexpr BasicArrayScale(const SensorLevels* levels, int count)
        : count_(count < max_sensors ? count : max_sensors) {
        for (int i = 0; i < count_; ++i) {
            scales_[i] = BasicSensorScale<Numbers>(levels[i]);
        }
    }

    /// How many sensors there are.
    constexpr int count() const { return count_; }

    /// The scale of one of them, from 0 at the left.
    constexpr const BasicSensorScale<Numbers>& scale(int sensor) const { return scales_[sensor]; }

    /// Fills `readings` (as many as there are sensors) and returns the bits: bit k is set when sensor k+1 sees line.
    constexpr std::uint8_t read(const double* raw_counts, double* readings) {
        unsigned bits = 0;
        for (int i = 0; i < count_; ++i) {
            readings[i] = scales_[i].reading(raw_counts[i]);
            bits |= bit(i, readings[i]);
        }
        return remember(bits);
    }

    /// The bits of readings that are known already, with the hysteresis as in read(): a sensor between its two
    /// thresholds keeps the bit that it had.
    constexpr std::uint8_t bits_of(const double* readings) {
        unsigned bits = 0;
        for (int i = 0; i < count_; ++i) {
            bits |= bit(i, readings[i]);
        }
        return remember(bits);
    }

    /// What it remembers for the hysteresis: the bits of the last look. And another past in its place.
    constexpr std::uint8_t last_bits() const { return static_cast<std::uint8_t>(bits_); }
    constexpr void recall(std::uint8_t bits) { bits_ = bits; }

private:
    /// The bit of sensor i, at its place.
    constexpr unsigned bit(int i, double reading) const {
        return static_cast<unsigned>(scales_[i].is_line(reading, ((bits_ >> i) & 1U) != 0)) << i;
    }
    /// Keeps the bits for the next look.
    constexpr std::uint8_t remember(unsigned bits) {
        bits_ = bits;
        return static_cast<std::uint8_t>(bits);
    }

    /// As many as count_ are used.
    BasicSensorScale<Numbers> scales_[max_sensors];
    unsigned bits_ = 0;
    int count_ = 0;
};

/// One that computes in `double`.
using ArrayScale = BasicArrayScale<runtime::Binary64>;

} // namespace vast_turn
