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

/// How numbers are computed.
enum class NumberKind : std::uint8_t {
    binary64, ///< `double`
    binary32, ///< `float`: half the memory, and much less work for a chip that has no unit for `double`
};

/// What becomes of the result of one operation. A sum, difference, product or quotient of two short numbers that is
/// computed in `double` and then shortened is what a chip that computes in `float` gets, since twice its digits and two
/// more are there to round from (Figueroa, When is double rounding innocuous?, SIGNUM Newsletter 30, 1995).
struct Binary64 {
    static constexpr double kept(double x) { return x; }
};
struct Binary32 {
    static constexpr double kept(double x) { return static_cast<double>(static_cast<float>(x)); }
};

/// x, made a finite number within the range.
template <class Numbers = Binary64> constexpr double settled(double x, std::uint32_t& faults) {
    constexpr double largest = Numbers::kept(largest_number);
    const double kept = Numbers::kept(x);
    if (__builtin_fabs(kept) <= largest) [[likely]] {
        return kept;
    }
    ++faults;
    return kept > largest ? largest : (kept < -largest ? -largest : 0.0);
}

/// a / b, settled; 0 when b is 0 or no number.
template <class Numbers = Binary64> constexpr double divided(double a, double b, std::uint32_t& faults) {
    if (!(b < 0.0 || b > 0.0)) {
        ++faults;
        return 0.0;
    }
    return settled<Numbers>(a / b, faults);
}

/// x kept within low..high; low when the borders are crossed over.
constexpr double clamped(double x, double low, double high) {
    const double below = x < high ? x : high;
    return below > low ? below : low;
}

} // namespace vast_turn::runtime
