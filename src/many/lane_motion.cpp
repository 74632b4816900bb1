#include "many/lane_motion.hpp"

#include <algorithm>
#include <cmath>

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

/// As Motion::move().
VAST_TURN_WIDE void move_by(LaneBodies& bodies, const Strides& stride, Paces& paces, const Wide<std::int64_t>& goes) {
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const bool go = goes[l] > 0;
        const double speed_target = paces.speed_target[l];
        const double speed_rest = paces.speed_rest[l];
        double turned = 0.0;
        double sine = 0.0;
        double cosine = 0.0;
        double forward = 0.0;
        double sideways = 0.0;
#pragma GCC unroll 4
        for (std::size_t i = 0; i < stride.time_s.size(); ++i) {
            turned = paces.turn_target[l] * stride.time_s[i][l] + paces.turn_rest[l] * stride.gone_s[i][l];
            const SmallTurn small = small_turn(turned);
            sine = small.sine;
            cosine = small.cosine;
            if (i < stride.weight_s.size()) {
                const double part = stride.weight_s[i][l] * (speed_target + speed_rest * stride.decay[i][l]);
                forward += part * cosine;
                sideways += part * sine;
            }
        }
        const double ahead_x = bodies.ahead_x[l];
        const double ahead_y = bodies.ahead_y[l];
        const double at_x = bodies.x[l] + (forward * ahead_x + sideways * ahead_y);
        const double at_y = bodies.y[l] + (forward * ahead_y - sideways * ahead_x);
        const double x = ahead_x * cosine + ahead_y * sine;
        const double y = ahead_y * cosine - ahead_x * sine;
        const double scale = 1.5 - 0.5 * (x * x + y * y);
        const std::size_t end = stride.time_s.size() - 1;
        const double way = speed_target * stride.time_s[end][l] + speed_rest * stride.gone_s[end][l];
        const double decay = stride.decay[end][l];
        bodies.x[l] = go ? at_x : bodies.x[l];
        bodies.y[l] = go ? at_y : bodies.y[l];
        bodies.ahead_x[l] = go ? scale * x : ahead_x;
        bodies.ahead_y[l] = go ? scale * y : ahead_y;
        bodies.way_mm[l] = go ? bodies.way_mm[l] + way : bodies.way_mm[l];
        bodies.path_mm[l] = go ? bodies.path_mm[l] + std::abs(way) : bodies.path_mm[l];
        bodies.turned_rad[l] = go ? bodies.turned_rad[l] + turned : bodies.turned_rad[l];
        paces.speed_rest[l] = go ? speed_rest * decay : speed_rest;
        paces.turn_rest[l] = go ? paces.turn_rest[l] * decay : paces.turn_rest[l];
    }
}

/// And what it ends with.
VAST_TURN_WIDE void end_move(LaneBodies& bodies, const Wide<double>& left, const Wide<double>& right,
                             const Wide<double>& per_track, const Paces& paces) {
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const bool went = paces.goes[l] > 0;
        const double half = 0.5 * paces.turn_rest[l] / per_track[l];
        bodies.left_mm_s[l] = went ? left[l] + paces.speed_rest[l] - half : bodies.left_mm_s[l];
        bodies.right_mm_s[l] = went ? right[l] + paces.speed_rest[l] + half : bodies.right_mm_s[l];
    }
}

/// Takes a stride off what is left; whether anything was.
VAST_TURN_WIDE bool take_stride(Wide<std::int64_t>& left, const Wide<std::int64_t>& longest,
                                Wide<std::int64_t>& stride) {
    std::int64_t any = 0;
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
