#pragma once

/// How the robot moves: two wheels that follow their targets with a lag, on a body that turns.

#include <array>
#include <cmath>
#include <cstddef>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/robot/wheel_speeds.hpp"

namespace vast_turn {

/// Where the body is and how fast its wheels run.
struct Body {
    Vec2 at;                 ///< the point midway between the wheels, mm, course frame
    Vec2 ahead{1.0, 0.0};    ///< unit vector the way it faces, course frame
    double turned_rad = 0.0; ///< since the start, counter-clockwise, does not wrap
    double way_mm = 0.0;     ///< net way of `at`: backwards counts negative
    double path_mm = 0.0;    ///< as way_mm with backwards counted positive, stretch by stretch
    double left_mm_s = 0.0;  ///< speed of the left wheel over the ground
    double right_mm_s = 0.0;
    double left_counted_mm = 0.0; ///< by the encoder, at the rim of the wheel; only of a robot with weight
    double right_counted_mm = 0.0;
};

/// Moves a body while its wheels follow their targets.
///
/// Speeds, turn and way are the closed forms of the first-order lag. The place is the integral of
/// speed along the turning direction, by Gauss-Legendre quadrature with three points (Abramowitz and
/// Stegun, "Handbook of Mathematical Functions", 1964, 25.4.29) over strides so short that its error
/// is below 1e-9 of the way. So the step is only the grid on which commands reach the wheels: the same
/// commands lead to the same place at any step.
class Motion {
public:
    /// `step_ms` > 0.
    Motion(const Robot& robot, double step_ms);

    /// Moves for `steps` steps towards the given settled speeds. The accuracy holds for speeds within
    /// those of the robot's motors.
    void advance(Body& body, int steps, double left_target_mm_s, double right_target_mm_s) const;

    /// Below this a wheel stands, mm/s: in a year it would roll less than an atom's width. A lag alone never stops one,
    /// and numbers that have almost died out are slow to reckon with.
    static constexpr double standstill = 1e-20;

private:
    friend class LaneMotion; // moves several side by side
    static constexpr std::size_t nodes = 3;
    static constexpr std::size_t points = nodes + 1; // the last is the end of the stride
    static constexpr std::size_t longest_stride = 16;

    /// What a stride of some units of time needs, at each of its points.
    struct Stride {
        std::array<double, points> time_s{};  // from its begin
        std::array<double, points> decay{};   // what is left there of a difference of speeds
        std::array<double, points> gone_s{};  // the integral of `decay` up to there
        std::array<double, nodes> weight_s{}; // of the quadrature
    };

    /// A pace: what it settles at, and how far it is from that now.
    struct Pace {
        double target;
        double rest;
    };

    /// A stride of a duration, and a move by it.
    static Stride make_stride(double duration_s, double lag_s);
    static void move(Body& body, const Stride& stride, Pace& speed, Pace& turn);

    std::array<Stride, longest_stride> strides_; // by their number of units, less one
    std::size_t longest_ = 1;                    // units in one stride
    int units_ = 1;                              // in a step
    /// 1 / mm: what a difference of speeds turns.
    double per_track_;
};

} // namespace vast_turn
