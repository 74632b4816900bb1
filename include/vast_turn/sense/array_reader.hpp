#pragma once

/// The part of a look that the array gives, from counts, from readings or from a pattern.

#include <array>
#include <vector>

#include "vast_turn/runtime/line_position.hpp"
#include "vast_turn/runtime/look.hpp"
#include "vast_turn/sense/calibration.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

/// Weights of an array of which nothing is known: evenly spaced, 1 at the left to -1 at the right.
std::vector<double> even_weights(int sensors);

/// Weights of the sensors for the weighted position: their way to the left of the robot's middle as
/// a part of the outermost one's, so -1..1. All 0 when every sensor lies on the middle.
std::vector<double> position_weights(const std::vector<double>& left_mm);

/// Remembers what an array remembers from look to look: bits for the hysteresis, the offset and the side
/// where the line was last seen. Use one for one sequence of looks; a copy goes on from where the original stands.
///
///     ArrayReader reader = array_reader(robot, calibration);
///     reader.from_counts(look); // look.raw is filled; fills sensor, line_bits, offset, last_side
class ArrayReader {
public:
    /// An array whose sensors stand so far to the left of the robot's middle, one to eight, with a calibration for
    /// as many (asserted). array_reader() of robot/array.hpp makes one of a robot. `numbers` is how it computes:
    /// binary32 as a robot that was given its C with `float`.
    ArrayReader(const std::vector<double>& left_mm, const Calibration& calibration,
                runtime::NumberKind numbers = runtime::NumberKind::binary64);
    /// An array of evenly spaced sensors, one to eight, with the threshold half way.
    explicit ArrayReader(int sensors);

    /// How many there are.
    int sensors() const { return scale_.count(); }

    /// Fills readings, bits, offset and side from `look.raw`.
    void from_counts(Look& look) {
        if (numbers_ == runtime::NumberKind::binary32) [[unlikely]] {
            return from_counts_in_float(look);
        }
        finish<runtime::Binary64>(look, scale_.read(look.raw, look.sensor), sensors());
    }
    /// From `look.sensor`, clamped to 0..1.
    void from_readings(Look& look);
    /// From a pattern: readings are exactly 0 and 1.
    void from_pattern(Look& look, Pattern pattern);
    /// From `look.sensor` with the bits given too, as a log has them.
    void from_readings(Look& look, Pattern pattern) { finish(look, pattern.bits, pattern.count); }

    /// What it reckons with: scales, weights of the offset, and the side of each pattern (0 of a balanced one).
    const ArrayScale& scales() const { return scale_; }
    const std::array<double, max_sensors>& weights() const { return weights_; }
    const std::array<double, 1U << max_sensors>& sides() const { return side_; }
    runtime::NumberKind numbers() const { return numbers_; }

    /// What it remembers of the looks before.
    struct Past {
        std::uint8_t bits = 0; ///< as Look::line_bits
        double offset = 0.0;
        double last_side = 1.0; ///< as Look::last_side
    };
    Past past() const {
        const bool is_short = numbers_ == runtime::NumberKind::binary32;
        return {is_short ? short_scale_.last_bits() : scale_.last_bits(), offset_, last_side_};
    }
    /// Goes on as if that had been: to read a look once more, or behind another array's looks.
    void recall(const Past& past) {
        scale_.recall(past.bits);
        short_scale_.recall(past.bits);
        offset_ = past.offset;
        last_side_ = past.last_side;
    }

private:
    void from_counts_in_float(Look& look);
    /// Bits, offset and side into the look, and kept for the next.
    void finish(Look& look, std::uint8_t bits, int count) {
        numbers_ == runtime::NumberKind::binary32 ? finish<runtime::Binary32>(look, bits, count)
                                                  : finish<runtime::Binary64>(look, bits, count);
    }
    template <class Numbers> void finish(Look& look, std::uint8_t bits, int count) {
        look.sensors = static_cast<std::uint8_t>(count);
        look.line_bits = bits;
        offset_ = weighted_position<Numbers>(look.sensor, weights_.data(), count, bits, offset_);
        const double side = side_[bits];
        last_side_ = side > 0.0 || side < 0.0 ? side : last_side_;
        look.offset = offset_;
        look.last_side = last_side_;
    }

    /// Counts to readings and bits.
    ArrayScale scale_;
    BasicArrayScale<runtime::Binary32> short_scale_;
    runtime::NumberKind numbers_;
    std::array<double, max_sensors> weights_{};
    std::array<double, 1U << max_sensors> side_{}; // of each pattern; 0 for a balanced one
    /// As they were in the look before.
    double offset_ = 0.0;
    double last_side_ = 1.0;
};

} // namespace vast_turn
