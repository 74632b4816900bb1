#pragma once

/// Where the line is under the array, as one number.
///
/// Freestanding: no library, no heap, so that the same lines run on a robot.

#include <cstdint>

#include "vast_turn/runtime/arithmetic.hpp"

namespace vast_turn {

/// The weighted mean of the readings: sum(w*s) / sum(s). Positive when the line is to the left.
/// With weights 1 at the outermost left and -1 at the outermost right it lies in -1..1.
/// Returns `last` when no sensor sees line (`line_bits` is 0): off the line readings are noise, and what they weigh
/// says nothing; so it is when no reading is above zero.
template <class Numbers = runtime::Binary64>
constexpr double weighted_position(const double* readings, const double* weights, int count, std::uint8_t line_bits,
                                   double last) {
    if (line_bits == 0) {
        return last;
    }
    double sum = 0.0;
    double weighted = 0.0;
    for (int i = 0; i < count; ++i) {
        const double reading = Numbers::kept(readings[i]);
        sum = Numbers::kept(sum + reading);
        weighted = Numbers::kept(weighted + Numbers::kept(Numbers::kept(weights[i]) * reading));
    }
    return sum > 0.0 ? Numbers::kept(weighted / sum) : last;
}

/// The side where the line was last seen: +1 left, -1 right. It follows the sign of the sum of
/// the positions (mm to the left) of the sensors that see it; a balanced pattern leaves it as it was.
constexpr double side_of_line(std::uint8_t bits, const double* left_mm, int count, double last) {
    double sum = 0.0;
    for (int i = 0; i < count; ++i) {
        if (((bits >> i) & 1) != 0) {
            sum += left_mm[i];
        }
    }
    return sum > 0.0 ? 1.0 : (sum < 0.0 ? -1.0 : last);
}

} // namespace vast_turn
