#pragma once

/// What a sensor with a rate of its own holds on to.

namespace vast_turn {

/// A value, and until when it holds.
template <class T> struct Held {
    double until_s = -1.0;
    T value{};

    /// Whether it is time to look anew; then what is seen holds for `rate_ms`.
    bool is_over(double t_s, double rate_ms) {
        constexpr double all_but_s = 1e-9;
        if (t_s + all_but_s < until_s) {
            return false;
        }
        until_s = t_s + rate_ms / 1000.0;
        return true;
    }
};

} // namespace vast_turn
