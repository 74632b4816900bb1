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

namespace {

/// What a step needs of its turn.
struct Turn {
    double sine;
    double cosine;
    double chord; // tan(turn/2) / (turn/2): by how much the mean of the two directions is too short
};

/// The series are exact to double precision for turns that small, and a step's turn is small unless
/// the step is long.
constexpr double series_limit = 0.0063 * 0.0063;

template <bool small> inline Turn turn_by(double turn) {
    if constexpr (!small) {
        const double half = 0.5 * turn;
        return {std::sin(turn), std::cos(turn), half < 0.0 || half > 0.0 ? std::tan(half) / half : 1.0};
    }
    const double squared = turn * turn;
    return {turn * (1.0 - squared * (1.0 / 6.0 - squared * (1.0 / 120.0))),
            1.0 - squared * (0.5 - squared * (1.0 / 24.0)), 1.0 + squared * (1.0 / 12.0 + squared * (1.0 / 120.0))};
}

/// Way and turn of a step: what they settle at, and what is left to that in the first step.
struct Settling {
    double target;
    double rest;
};

/// Moves the body's place and direction by some steps; `kept` is the part of a rest that is left
/// after a step.
template <bool small> void move(Body& body, int steps, Settling way, Settling turn, double kept) {
    double x = body.at.x;
    double y = body.at.y;
    double ahead_x = body.ahead.x;
    double ahead_y = body.ahead.y;
    for (int i = 0; i < steps; ++i) {
        const Turn t = turn_by<small>(turn.target + turn.rest);
        const double next_x = ahead_x * t.cosine + ahead_y * t.sine;
        const double next_y = ahead_y * t.cosine - ahead_x * t.sine;
        // The chord of the arc lies along the mean of the directions before and after.
        const double chord = 0.5 * (way.target + way.rest) * t.chord;
        way.rest *= kept;
        turn.rest *= kept;
        x += chord * (ahead_x + next_x);
        y += chord * (ahead_y + next_y);
        ahead_x = next_x;
        ahead_y = next_y;
    }
    // Rounding lets the length of the direction drift by parts in 1e16 a step.
    const double scale = 1.5 - 0.5 * (ahead_x * ahead_x + ahead_y * ahead_y);
    body.at = {x, y};
    body.ahead = {scale * ahead_x, scale * ahead_y};
}

double power_of(double base, int exponent) {
    double result = 1.0;
    for (; exponent > 0; exponent >>= 1) {
        result *= (exponent & 1) != 0 ? base : 1.0;
        base *= base;
    }
    return result;
}

} // namespace

void Motion::advance(Body& body, int steps, double left_target_mm_s, double right_target_mm_s) const {
    // Both wheels have the same lag, so their mean (the way) and their difference (the turn) follow
    // it too: what is left of each to its target shrinks by the same part in every step.
    const double left_rest = body.left_mm_s - left_target_mm_s;
    const double right_rest = body.right_mm_s - right_target_mm_s;
    const Settling way{0.5 * (left_target_mm_s + right_target_mm_s) * step_s_,
                       0.5 * (left_rest + right_rest) * decay_way_s_};
    const Settling turn{(right_target_mm_s - left_target_mm_s) * step_s_ * per_track_,
                        (right_rest - left_rest) * decay_way_s_ * per_track_};
    const double largest = std::max(std::abs(turn.target), std::abs(turn.target + turn.rest));
    if (largest * largest <= series_limit) {
        move<true>(body, steps, way, turn, decay_);
    } else {
        move<false>(body, steps, way, turn, decay_);
    }
    const double left_over = power_of(decay_, steps);
    const double rests = (1.0 - left_over) / (1.0 - decay_); // the sum of what is left in each step
    const double whole_way = steps * way.target + rests * way.rest;
    body.turned_rad += steps * turn.target + rests * turn.rest;
    body.way_mm += whole_way;
    body.path_mm += std::abs(whole_way);
    body.left_mm_s = left_target_mm_s + left_rest * left_over;
    body.right_mm_s = right_target_mm_s + right_rest * left_over;
}

} // namespace vast_turn
