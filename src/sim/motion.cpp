#include "vast_turn/sim/motion.hpp"

#include <algorithm>

#include "sim/small_turn.hpp"

namespace vast_turn {

namespace {

// Up to these the quadrature and the series below are exact to parts in 1e10 and in 1e15.
constexpr double most_turn = 0.125; // of a stride, radians
constexpr double most_lags = 0.25;  // of a stride, as a part of the lag

bool stands(double target, double now) { return !(std::abs(target) > 0.0) && std::abs(now) < Motion::standstill; }

} // namespace

Motion::Stride Motion::make_stride(double duration_s, double lag_s) {
    constexpr std::array<double, points> place = {0.1127016653792583, 0.5, 0.8872983346207417, 1.0};
    constexpr std::array<double, nodes> weight = {5.0 / 18.0, 8.0 / 18.0, 5.0 / 18.0};
    Stride stride;
    for (std::size_t i = 0; i < points; ++i) {
        stride.time_s[i] = place[i] * duration_s;
        stride.decay[i] = lag_s > 0.0 ? std::exp(-stride.time_s[i] / lag_s) : 0.0;
        stride.gone_s[i] = lag_s > 0.0 ? lag_s * -std::expm1(-stride.time_s[i] / lag_s) : 0.0;
    }
    for (std::size_t i = 0; i < nodes; ++i) {
        stride.weight_s[i] = weight[i] * duration_s;
    }
    return stride;
}

Motion::Motion(const Robot& robot, double step_ms) : per_track_(1.0 / robot.skid_track_mm()) {
    const double step_s = step_ms / 1000.0;
    const double lag_s = robot.motors.lag_ms / 1000.0;
    const double fastest =
        robot.top_speed_mm_s * per_track_ *
        (robot.motors.left.gain * robot.motors.left.wheel + robot.motors.right.gain * robot.motors.right.wheel);
    double stride_s = fastest > 0.0 ? most_turn / fastest : step_s;
    if (lag_s > 0.0) {
        stride_s = std::min(stride_s, most_lags * lag_s);
    }
    constexpr double most_units = 262144.0; // for a lag that is next to nothing beside the step
    units_ = static_cast<int>(std::clamp(std::ceil(step_s / stride_s), 1.0, most_units));
    const double unit_s = step_s / units_;
    longest_ = static_cast<std::size_t>(std::clamp(stride_s / unit_s, 1.0, static_cast<double>(longest_stride)));
    for (std::size_t n = 1; n <= longest_; ++n) {
        strides_[n - 1] = make_stride(static_cast<double>(n) * unit_s, lag_s);
    }
}

void Motion::move(Body& body, const Stride& stride, Pace& speed, Pace& turn) {
    std::array<double, points> turned;
    std::array<double, points> sine;
    std::array<double, points> cosine;
    for (std::size_t i = 0; i < points; ++i) {
        turned[i] = turn.target * stride.time_s[i] + turn.rest * stride.gone_s[i];
        const SmallTurn small = small_turn(turned[i]);
        sine[i] = small.sine;
        cosine[i] = small.cosine;
    }
    double forward = 0.0;
    double sideways = 0.0; // to the left of where it faced
    for (std::size_t i = 0; i < nodes; ++i) {
        const double way = stride.weight_s[i] * (speed.target + speed.rest * stride.decay[i]);
        forward += way * cosine[i];
        sideways += way * sine[i];
    }
    const Vec2 ahead = body.ahead;
    body.at.x += forward * ahead.x + sideways * ahead.y;
    body.at.y += forward * ahead.y - sideways * ahead.x;
    const double x = ahead.x * cosine[nodes] + ahead.y * sine[nodes];
    const double y = ahead.y * cosine[nodes] - ahead.x * sine[nodes];
    // Rounding lets the length of the direction drift by parts in 1e16 a stride.
    const double scale = 1.5 - 0.5 * (x * x + y * y);
    body.ahead = {scale * x, scale * y};
    const double way = speed.target * stride.time_s[nodes] + speed.rest * stride.gone_s[nodes];
    body.way_mm += way;
    body.path_mm += std::abs(way);
    body.turned_rad += turned[nodes];
    speed.rest *= stride.decay[nodes];
    turn.rest *= stride.decay[nodes];
}

void Motion::advance(Body& body, int steps, double left_target_mm_s, double right_target_mm_s) const {
    if (stands(left_target_mm_s, body.left_mm_s) && stands(right_target_mm_s, body.right_mm_s)) {
        body.left_mm_s = 0.0;
        body.right_mm_s = 0.0;
        return;
    }
    // Both wheels have the same lag, so their mean (the speed) and their difference (the turn) follow it too.
    const double left_rest = body.left_mm_s - left_target_mm_s;
    const double right_rest = body.right_mm_s - right_target_mm_s;
    Pace speed{0.5 * (left_target_mm_s + right_target_mm_s), 0.5 * (left_rest + right_rest)};
    Pace turn{(right_target_mm_s - left_target_mm_s) * per_track_, (right_rest - left_rest) * per_track_};
    auto units = static_cast<std::size_t>(steps) * static_cast<std::size_t>(units_);
    for (; units > longest_; units -= longest_) {
        move(body, strides_[longest_ - 1], speed, turn);
    }
    if (units > 0) {
        move(body, strides_[units - 1], speed, turn);
    }
    const double half = 0.5 * turn.rest / per_track_;
    body.left_mm_s = left_target_mm_s + speed.rest - half;
    body.right_mm_s = right_target_mm_s + speed.rest + half;
}

} // namespace vast_turn
