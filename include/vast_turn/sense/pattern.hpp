#pragma once

/// What an array of line sensors sees, one mark a sensor: `#` is line, a full stop is floor.

#include <bit>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

#include "vast_turn/runtime/look.hpp"

namespace vast_turn {

/// Which sensors see line. Sensor 1 is the leftmost and is bit 0. Written as marks it reads from the left as the
/// robot looks ahead.
struct Pattern {
    std::uint8_t bits = 0;
    int count = 0; ///< sensors in the array, 1 to max_sensors

    /// The same sensors of the same array.
    friend constexpr bool operator==(const Pattern&, const Pattern&) = default;
};

/// How many sensors see line, 0 to 8.
constexpr int seen(Pattern p) { return std::popcount(p.bits); }

/// How many patterns an array of `count` sensors can see: 2 to the power of `count`.
constexpr int pattern_count(int count) { return 1 << count; }

/// The pattern with left and right exchanged: of "##." ".##".
constexpr Pattern mirrored(Pattern p) {
    Pattern out{0, p.count};
    for (int i = 0; i < p.count; ++i) {
        if (((p.bits >> i) & 1) != 0) {
            out.bits = static_cast<std::uint8_t>(out.bits | (1U << (p.count - 1 - i)));
        }
    }
    return out;
}

/// "##." for a three-sensor array whose two left sensors see line.
std::string to_marks(Pattern pattern);

/// Reads "##." (blanks are ignored); nothing when there are other characters, no mark or more than eight. A pattern
/// of a plan, which may have `?` for either, is not one of these.
std::optional<Pattern> parse_marks(std::string_view text);

} // namespace vast_turn
