#pragma once

/// The arithmetic of the language: every result is a finite number.
///
/// Freestanding. The compiler folds constants with the same functions that run on the robot.
///  - x / 0 is 0.
///  - A result beyond +-1e12 stays there (no quantity of a robot comes near).
///  - A result that is no number is 0.
/// What is read is settled in the same way: a reading that is no number counts as 0.
/// Each such case adds one to `faults`.

#include <cstdint>

namespace vast_turn::runtime {

/// Beyond which a result is cut.
inline constexpr double largest_number = 1e12;

/// x, made a finite number within the range.
constexpr double settled(double x, std::uint32_t& faults) {
    if (__builtin_fabs(x) <= largest_number) [[likely]] {
        return x;
    }
    ++faults;
    return x > largest_number ? largest_number : (x < -largest_number ? -largest_number : 0.0);
}

/// a / b, settled; 0 when b is 0 or no number.
constexpr double divided(double a, double b, std::uint32_t& faults) {
    if (!(b < 0.0 || b > 0.0)) {
        ++faults;
        return 0.0;
    }
    return settled(a / b, faults);
}

/// x kept within low..high; low when the borders are crossed over.
constexpr double clamped(double x, double low, double high) {
    const double below = x < high ? x : high;
    return below > low ? below : low;
}

} // namespace vast_turn::runtime
