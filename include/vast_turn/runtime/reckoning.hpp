#pragma once

/// From the turns of both wheels to the way and the turn of the robot, and from a clock to its time.
///
/// Freestanding: no library, no heap, so that the same lines run on a robot.

#include <cstdint>

#include "vast_turn/runtime/arithmetic.hpp"

namespace vast_turn {

/// How the way and the turn of a robot on two wheels follow from how far they have turned, with what it believes of its
/// wheels. `Numbers` is how it computes.
template <class Numbers = runtime::Binary64> class WheelReckoning {
public:
    /// Millimetres: the diameter of a wheel, and how far apart the wheels' contact points are, above 0.
    constexpr WheelReckoning(double wheel_mm, double track_mm)
        : way_per_deg_(Numbers::kept(pi_ * wheel_mm / 720.0)), turn_per_deg_(Numbers::kept(0.5 * wheel_mm / track_mm)) {
    }

    /// Net way of the point midway between the wheels, which have turned so many degrees.
    constexpr double way_mm(double left_deg, double right_deg) const {
        return Numbers::kept(Numbers::kept(left_deg + right_deg) * way_per_deg_);
    }

    /// How far the robot has turned, counter-clockwise, in degrees.
    constexpr double heading_deg(double left_deg, double right_deg) const {
        return Numbers::kept(Numbers::kept(right_deg - left_deg) * turn_per_deg_);
    }

    /// Of a degree that both wheels turn, and of one that the right wheel turns farther.
    constexpr double way_per_deg() const { return way_per_deg_; }
    constexpr double turn_per_deg() const { return turn_per_deg_; }

private:
    static constexpr double pi_ = 3.14159265358979323846;
    /// Half of the way of a wheel for a degree; degrees of the robot for one of a wheel.
    double way_per_deg_;
    double turn_per_deg_;
};

/// Milliseconds of a clock that counts so many whole microseconds.
template <class Numbers = runtime::Binary64> constexpr double clock_ms(std::uint64_t us) {
    const std::uint64_t whole_ms = us / 1000U;
    const std::uint64_t rest_us = us % 1000U;
    return Numbers::kept(Numbers::kept(static_cast<double>(whole_ms)) +
                         Numbers::kept(static_cast<double>(rest_us) / 1000.0));
}

} // namespace vast_turn
