#include "vast_turn/sim/motion.hpp"

#include <algorithm>

namespace vast_turn {

double settled_speed(const Robot& robot, const Motor& motor, double power_pct) {
    const double power = std::clamp(power_pct, -100.0, 100.0);
    if (std::abs(power) < robot.motors.dead_band_pct) {
        return 0.0;
    }
    return power / 100.0 * motor.gain * robot.top_speed_mm_s;
}

Motion::Motion(const Robot& robot, double step_ms) : step_s_(step_ms / 1000.0), per_track_(1.0 / robot.track_mm) {
    const double lag_s = robot.motors.lag_ms / 1000.0;
    decay_ = lag_s > 0.0 ? std::exp(-step_s_ / lag_s) : 0.0;
    decay_way_s_ = lag_s > 0.0 ? lag_s * -std::expm1(-step_s_ / lag_s) : 0.0;
}

void Motion::advance(Body& body, int steps, double left_target_mm_s, double right_target_mm_s) const {
    Body b = body; // in registers
    const double left_way = left_target_mm_s * step_s_;
    const double right_way = right_target_mm_s * step_s_;
    for (int i = 0; i < steps; ++i) {
        const double left_rest = b.left_mm_s - left_target_mm_s;
        const double right_rest = b.right_mm_s - right_target_mm_s;
        const double left = left_way + left_rest * decay_way_s_;
        const double right = right_way + right_rest * decay_way_s_;
        b.left_mm_s = left_target_mm_s + left_rest * decay_;
        b.right_mm_s = right_target_mm_s + right_rest * decay_;

        const double way = 0.5 * (left + right);
        const double turn = (right - left) * per_track_;
        const double h = 0.5 * turn;
        const double hh = h * h;
        // Half the turn as cosine, sine and sine/angle. The series are exact to double precision for
        // small angles, and a step's turn is small unless the step is long.
        double c = 1.0 - hh * (0.5 - hh * (1.0 / 24.0 - hh * (1.0 / 720.0)));
        double ratio = 1.0 - hh * (1.0 / 6.0 - hh * (1.0 / 120.0 - hh * (1.0 / 5040.0)));
        constexpr double series_limit = 0.04 * 0.04;
        if (hh > series_limit) {
            c = std::cos(h);
            ratio = std::sin(h) / h;
        }
        const double s = h * ratio;
        const Vec2 middle{b.ahead.x * c + b.ahead.y * s, b.ahead.y * c - b.ahead.x * s};
        b.at = b.at + (way * ratio) * middle;
        b.ahead = {middle.x * c + middle.y * s, middle.y * c - middle.x * s};
        b.turned_rad += turn;
        b.way_mm += way;
        b.path_mm += std::abs(way);
    }
    // Rounding lets the length of the direction drift by parts in 1e16 a step.
    const double scale = 1.5 - 0.5 * dot(b.ahead, b.ahead);
    b.ahead = scale * b.ahead;
    body = b;
}

} // namespace vast_turn
