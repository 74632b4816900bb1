#pragma once

/// The part of a look that the array gives, from counts, from readings or from a pattern.

#include <string>
#include <vector>

#include "vast_turn/robot/robot.hpp"
#include "vast_turn/runtime/line_position.hpp"
#include "vast_turn/runtime/look.hpp"
#include "vast_turn/sense/calibration.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

/// Remembers what an array remembers from look to look: bits for the hysteresis, the offset and the side
/// where the line was last seen. Use one for one sequence of looks.
class ArrayReader {
public:
    /// The array of a robot.
    ArrayReader(const Robot& robot, const Calibration& calibration);
    /// The array of a robot for readings and patterns, with the threshold half way.
    explicit ArrayReader(const Robot& robot);
    /// An array of evenly spaced sensors with the threshold half way.
    explicit ArrayReader(int sensors);

    int sensors() const { return static_cast<int>(weights_.size()); }

    /// Fills readings, bits, offset and side from `look.raw`.
    void from_counts(Look& look) { finish(look, reader_.read(look.raw, look.sensor)); }
    /// From `look.sensor`, clamped to 0..1.
    void from_readings(Look& look);
    /// From a pattern: readings are exactly 0 and 1.
    void from_pattern(Look& look, Pattern pattern);
    /// From `look.sensor` with the bits given too, as a log has them.
    void from_readings(Look& look, Pattern pattern) { finish(look, pattern); }

private:
    void finish(Look& look, Pattern pattern) {
        look.sensors = static_cast<std::uint8_t>(pattern.count);
        look.line_bits = pattern.bits;
        offset_ = weighted_position(look.sensor, weights_.data(), pattern.count, offset_);
        const double side = side_[pattern.bits];
        last_side_ = side > 0.0 || side < 0.0 ? side : last_side_;
        look.offset = offset_;
        look.last_side = last_side_;
    }
    void note_sides(const std::vector<double>& left_mm);

    LineReader reader_;
    std::vector<double> weights_;
    std::vector<double> side_; // of each pattern; 0 for a balanced one
    double offset_ = 0.0;
    double last_side_ = 1.0;
};

} // namespace vast_turn
