#include "many/lane_motion.hpp"

#include <algorithm>
#include <cmath>
#include <tuple>

#include "sim/small_turn.hpp"

namespace vast_turn {

void LaneBodies::put(std::size_t lane, const Body& body) {
    x[lane] = body.at.x;
    y[lane] = body.at.y;
    ahead_x[lane] = body.ahead.x;
    ahead_y[lane] = body.ahead.y;
    turned_rad[lane] = body.turned_rad;
    way_mm[lane] = body.way_mm;
    path_mm[lane] = body.path_mm;
    left_mm_s[lane] = body.left_mm_s;
    right_mm_s[lane] = body.right_mm_s;
}

void LaneBodies::get(std::size_t lane, Body& body) const {
    body.at = {x[lane], y[lane]};
    body.ahead = {ahead_x[lane], ahead_y[lane]};
    body.turned_rad = turned_rad[lane];
    body.way_mm = way_mm[lane];
    body.path_mm = path_mm[lane];
    body.left_mm_s = left_mm_s[lane];
    body.right_mm_s = right_mm_s[lane];
}

void LaneMotion::put(std::size_t lane, const Motion& motion) {
    motion_[lane] = &motion;
    per_track_[lane] = motion.per_track_;
    units_[lane] = motion.units_;
    longest_[lane] = static_cast<std::int64_t>(motion.longest_);
    for (Strides& strides : strides_) {
        strides.units[lane] = 0;
    }
}

/// Fetches what is other than at the last look.
void LaneMotion::load(Strides& strides, const Wide<std::int64_t>& units) const {
    if (std::equal(units.begin(), units.end(), strides.units.begin())) {
        return;
    }
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (units[l] == strides.units[l] || units[l] == 0) {
            continue;
        }
        strides.units[l] = units[l];
        const Motion::Stride& one = motion_[l]->strides_[static_cast<std::size_t>(units[l]) - 1];
        for (std::size_t i = 0; i < Motion::points; ++i) {
            strides.time_s[i][l] = one.time_s[i];
            strides.decay[i][l] = one.decay[i];
            strides.gone_s[i][l] = one.gone_s[i];
        }
        for (std::size_t i = 0; i < Motion::nodes; ++i) {
            strides.weight_s[i][l] = one.weight_s[i];
        }
    }
}

namespace {

using Strides = LaneMotion::Strides;
using Paces = LaneMotion::Paces;

/// What a move begins with, as Motion::advance() has it. A robot that stands goes no stride.
VAST_TURN_WIDE void begin_move(LaneBodies& bodies, const Wide<double>& left, const Wide<double>& right,
                               const Wide<double>& per_track, Wide<std::int64_t>& units, Paces& paces) {
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const double left_rest = bodies.left_mm_s[l] - left[l];
        const double right_rest = bodies.right_mm_s[l] - right[l];
        paces.speed_target[l] = 0.5 * (left[l] + right[l]);
        paces.speed_rest[l] = 0.5 * (left_rest + right_rest);
        paces.turn_target[l] = (right[l] - left[l]) * per_track[l];
        paces.turn_rest[l] = (right_rest - left_rest) * per_track[l];
        const double most = std::max(std::abs(left[l]), std::abs(right[l]));
        const double now = std::max(std::abs(bodies.left_mm_s[l]), std::abs(bodies.right_mm_s[l]));
        const bool moves = units[l] > 0 && (most > 0.0 || !(now < Motion::standstill));
        const bool stops = units[l] > 0 && !moves;
        bodies.left_mm_s[l] = stops ? 0.0 : bodies.left_mm_s[l];
        bodies.right_mm_s[l] = stops ? 0.0 : bodies.right_mm_s[l];
        units[l] = moves ? units[l] : 0;
        paces.goes[l] = units[l];
    }
}

/// Where a stride has come at one of its points: how far it has turned, and the part of the way about there.
struct Point {
    double turned;
    SmallTurn turn;
};

[[gnu::always_inline]] inline Point point_of(const Strides& stride, const Paces& paces, std::size_t point,
                                             std::size_t l) {
    const double turned = paces.turn_target[l] * stride.time_s[point][l] + paces.turn_rest[l] * stride.gone_s[point][l];
    return {turned, small_turn(turned)};
}

[[gnu::always_inline]] inline double way_about(const Strides& stride, const Paces& paces, std::size_t node,
                                               std::size_t l) {
    return stride.weight_s[node][l] * (paces.speed_target[l] + paces.speed_rest[l] * stride.decay[node][l]);
}

/// As Motion::move(). Whatever a robot does that does not go is reckoned too and thrown away: there is no branch.
VAST_TURN_WIDE void move_by(LaneBodies& bodies, const Strides& stride, Paces& paces, const Wide<std::int64_t>& goes) {
    static_assert(std::tuple_size_v<decltype(stride.weight_s)> == 3);
    constexpr std::size_t end = 3;
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const Point first = point_of(stride, paces, 0, l);
        const Point second = point_of(stride, paces, 1, l);
        const Point third = point_of(stride, paces, 2, l);
        const Point last = point_of(stride, paces, end, l);
        const double first_way = way_about(stride, paces, 0, l);
        const double second_way = way_about(stride, paces, 1, l);
        const double third_way = way_about(stride, paces, 2, l);
        const double forward =
            first_way * first.turn.cosine + second_way * second.turn.cosine + third_way * third.turn.cosine;
        const double sideways =
            first_way * first.turn.sine + second_way * second.turn.sine + third_way * third.turn.sine;
        const double ahead_x = bodies.ahead_x[l];
        const double ahead_y = bodies.ahead_y[l];
        const double at_x = bodies.x[l] + (forward * ahead_x + sideways * ahead_y);
        const double at_y = bodies.y[l] + (forward * ahead_y - sideways * ahead_x);
        const double x = ahead_x * last.turn.cosine + ahead_y * last.turn.sine;
        const double y = ahead_y * last.turn.cosine - ahead_x * last.turn.sine;
        const double scale = 1.5 - 0.5 * (x * x + y * y);
        const double to_x = scale * x;
        const double to_y = scale * y;
        const double way = paces.speed_target[l] * stride.time_s[end][l] + paces.speed_rest[l] * stride.gone_s[end][l];
        const double way_mm = bodies.way_mm[l] + way;
        const double path_mm = bodies.path_mm[l] + std::abs(way);
        const double turned_rad = bodies.turned_rad[l] + last.turned;
        const double speed_rest = paces.speed_rest[l] * stride.decay[end][l];
        const double turn_rest = paces.turn_rest[l] * stride.decay[end][l];
        const bool go = goes[l] > 0;
        bodies.x[l] = go ? at_x : bodies.x[l];
        bodies.y[l] = go ? at_y : bodies.y[l];
        bodies.ahead_x[l] = go ? to_x : ahead_x;
        bodies.ahead_y[l] = go ? to_y : ahead_y;
        bodies.way_mm[l] = go ? way_mm : bodies.way_mm[l];
        bodies.path_mm[l] = go ? path_mm : bodies.path_mm[l];
        bodies.turned_rad[l] = go ? turned_rad : bodies.turned_rad[l];
        paces.speed_rest[l] = go ? speed_rest : paces.speed_rest[l];
        paces.turn_rest[l] = go ? turn_rest : paces.turn_rest[l];
    }
}

/// And what it ends with.
VAST_TURN_WIDE void end_move(LaneBodies& bodies, const Wide<double>& left, const Wide<double>& right,
                             const Wide<double>& per_track, const Paces& paces) {
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const bool went = paces.goes[l] > 0;
        const double half = 0.5 * paces.turn_rest[l] / per_track[l];
        const double left_now = left[l] + paces.speed_rest[l] - half;
        const double right_now = right[l] + paces.speed_rest[l] + half;
        bodies.left_mm_s[l] = went ? left_now : bodies.left_mm_s[l];
        bodies.right_mm_s[l] = went ? right_now : bodies.right_mm_s[l];
    }
}

/// Takes a stride off what is left; whether anything was.
VAST_TURN_WIDE bool take_stride(Wide<std::int64_t>& left, const Wide<std::int64_t>& longest,
                                Wide<std::int64_t>& stride) {
    std::int64_t any = 0;
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        stride[l] = left[l] < longest[l] ? left[l] : longest[l];
        left[l] -= stride[l];
        any |= stride[l];
    }
    return any != 0;
}

} // namespace

void LaneMotion::advance(LaneBodies& bodies, const Wide<std::int64_t>& steps, const Wide<double>& left_target_mm_s,
                         const Wide<double>& right_target_mm_s) {
    Wide<std::int64_t> units;
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        units[l] = steps[l] * units_[l];
    }
    Paces paces;
    begin_move(bodies, left_target_mm_s, right_target_mm_s, per_track_, units, paces);
    Wide<std::int64_t> stride;
    while (take_stride(units, longest_, stride)) {
        Strides& strides = strides_[std::min(next_++, kept - 1)];
        load(strides, stride);
        move_by(bodies, strides, paces, stride);
    }
    end_move(bodies, left_target_mm_s, right_target_mm_s, per_track_, paces);
}

} // namespace vast_turn
