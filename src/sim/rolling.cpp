/// Strides of a robot with weight in which its tyres hold.

#include <algorithm>
#include <cmath>

#include "sim/drivetrain.hpp"

namespace vast_turn {

namespace {

double sign_of(double x) { return x > 0.0 ? 1.0 : (x < 0.0 ? -1.0 : 0.0); }

} // namespace

/// Of a stride, where no more than the full voltage is there.
double Drivetrain::volts_in_the_middle(const Rolled& to) const {
    const double half_turn = 0.25 * apart_ * (turning_ + to.turning);
    const double middle = 0.5 * (ahead_ + to.speed);
    return held_part_ + left_gives_ * (middle - half_turn) + right_gives_ * (middle + half_turn);
}

/// The battery's voltage in the middle of a stride whose closed form that voltage drives: linear in it.
double Drivetrain::volts_that_last(const Stride& stride, const Losses& loses) const {
    const double straight = 0.25 * (1.0 - stride.decay) * (wheels_[0].target + wheels_[1].target);
    const double round = 0.25 * (1.0 - stride.turn_decay) * (wheels_[1].target - wheels_[0].target);
    const double by_itself = 1.0 / (1.0 - left_gives_ * (straight - round) - right_gives_ * (straight + round));
    return std::min(full_part_, by_itself * volts_in_the_middle(closed_form(stride, 0.0, loses)));
}

/// The closed form of the linear motors, both at work for a whole stride.
Drivetrain::Rolled Drivetrain::closed_form(const Stride& stride, double part, const Losses& loses) const {
    const double left_wants = part * wheels_[0].target - loses.left;
    const double right_wants = part * wheels_[1].target - loses.right;
    const double settled = 0.5 * (left_wants + right_wants) - lag_s_ * loses.ahead;
    const double settled_turning = (right_wants - left_wants) / apart_ - turn_lag_s_ * loses.turning;
    return {stride.h_s, settled + (ahead_ - settled) * stride.decay,
            settled_turning + (turning_ - settled_turning) * stride.turn_decay,
            settled * stride.h_s + (ahead_ - settled) * stride.gone_s,
            settled_turning * stride.h_s + (turning_ - settled_turning) * stride.turn_gone_s};
}

/// Any time within a stride, and motors that may be in the play of their gears: the midpoint rule.
Drivetrain::Rolled Drivetrain::by_midpoint(double h, double part, const Losses& loses, const AtWork& at_work) const {
    const double a = 0.5 * apart_;
    const double straight = 0.5 * h * push_ / (mass_ + 2.0 * wheel_mass_);
    const double round = 0.5 * h * push_ * a / turned_inertia_;
    const double left_works = at_work[0] ? 1.0 : 0.0;
    const double right_works = at_work[1] ? 1.0 : 0.0;
    const double left = left_works * part * wheels_[0].target - loses.left;
    const double right = right_works * part * wheels_[1].target - loses.right;
    // Two equations for the speed and the turning in the middle.
    const double vv = 1.0 + straight * (left_works + right_works);
    const double vw = straight * a * (right_works - left_works);
    const double wv = round * (right_works - left_works);
    const double ww = 1.0 + round * a * (left_works + right_works);
    const double v = ahead_ + straight * (left + right) - 0.5 * h * loses.ahead;
    const double w = turning_ + round * (right - left) - 0.5 * h * loses.turning;
    const double by = 1.0 / (vv * ww - vw * wv);
    const double speed = (v * ww - vw * w) * by;
    const double turning = (vv * w - wv * v) * by;
    return {h, 2.0 * speed - ahead_, 2.0 * turning - turning_, h * speed, h * turning};
}

/// What friction takes of the motors.
Drivetrain::Losses Drivetrain::rubbing() const {
    return {wheels_[0].keep * sign_of(wheels_[0].spin), wheels_[1].keep * sign_of(wheels_[1].spin), 0.0, 0.0};
}

/// What the caster takes at that speed; false when it may come to rest in so long.
bool Drivetrain::drag(double speed, double turning, double h_s, Losses& out) const {
    if (!(caster_grip_ > 0.0)) {
        return true;
    }
    const Vec2 moves{speed - turning * caster_.y, turning * caster_.x};
    const double fast = std::sqrt(dot(moves, moves));
    const Vec2 drags = caster_grip_ / fast * moves;
    out.ahead = drags.x / (mass_ + 2.0 * wheel_mass_);
    out.turning = (drags.y * caster_.x - drags.x * caster_.y) / turned_inertia_;
    return fast > 2.0 * caster_grip_ / mass_ * h_s;
}

/// Whether the tyres bear that, and no wheel stands or turns back against friction.
bool Drivetrain::bears(const Rolled& to, double part, const AtWork& at_work) const {
    const double a = 0.5 * apart_;
    const double a_second = 1.0 / to.h_s;
    const double aside = 0.125 * mass_ * (ahead_ + to.speed) * (turning_ + to.turning); // by each tyre
    for (std::size_t k = 0; k < wheels_.size(); ++k) {
        const Wheel& wheel = wheels_[k];
        const double after = k == 0 ? to.speed - a * to.turning : to.speed + a * to.turning;
        if (wheel.start > 0.0 && !(wheel.spin * after > 0.0)) {
            return false;
        }
        const double wants =
            (at_work[k] ? part * wheel.target - 0.5 * (wheel.spin + after) : 0.0) - wheel.keep * sign_of(wheel.spin);
        const double along = push_ * wants - wheel_mass_ * (after - wheel.spin) * a_second;
        if (along * along + aside * aside > most_grip_ * most_grip_) {
            return false;
        }
    }
    return true;
}

void Drivetrain::take(Body& body, const Rolled& to) {
    // The integral of the speed along the turning direction, both running evenly from begin to end but for what bends
    // the turning: the mean direction, the chord of the arc, and that it goes farther where it is faster.
    const double mean = 0.5 * to.turned + (turning_ - to.turning) * to.h_s / 12.0;
    const double sine = mean * (1.0 - mean * mean / 6.0);
    const double cosine = 1.0 - 0.5 * mean * mean * (1.0 - mean * mean / 12.0);
    const double chord = to.way * (1.0 - to.turned * to.turned / 24.0);
    const double aside = (to.speed - ahead_) * to.turned * to.h_s / 12.0;
    body.at = from_robot(body.at, turned(body.ahead, sine, cosine), {chord, aside});
    turn(body, to.turned);
    body.way_mm += to.way;
    body.path_mm += std::abs(to.way);
    ahead_ = to.speed;
    turning_ = to.turning;
    for (Wheel& wheel : wheels_) {
        wheel.spin = ahead_ - wheel.side * turning_;
        wheel.counted_mm += to.way - wheel.side * to.turned;
        wheel.was_at_rest = false;
    }
}

/// The same as bears(), for strides in which forces change: by bounds that may be too strict.
bool Drivetrain::bears_by_far(const Rolled& to, double part, const Stride& stride) const {
    const double more = 1.0 + stride.h_s / std::min(lag_s_, turn_lag_s_); // at the begin than in the mean
    const double aside = 0.5 * mass_ * std::max(std::abs(ahead_), std::abs(to.speed)) *
                         std::max(std::abs(turning_), std::abs(to.turning));
    for (const Wheel& wheel : wheels_) {
        const double after = to.speed - wheel.side * to.turning;
        if (wheel.start > 0.0 && !(wheel.spin * after > 0.0)) {
            return false;
        }
        const double wants = part * wheel.target - 0.5 * (wheel.spin + after) - wheel.keep * sign_of(wheel.spin);
        const double along = more * (push_ * wants - wheel_mass_ * (after - wheel.spin) / to.h_s);
        if (along * along + aside * aside > most_grip_ * most_grip_) {
            return false;
        }
    }
    return true;
}

/// A whole stride far from anything that begins or ends in it; false when there may be something, and nothing is done.
bool Drivetrain::roll_on(Body& body, const Stride& stride) {
    if (play_mm_ > 0.0 && !has_both(volts(), wheels_[0].spin, wheels_[1].spin)) {
        return false;
    }
    Losses loses = rubbing();
    const double part = volts_that_last(stride, loses);
    Rolled to = closed_form(stride, part, loses);
    if (caster_grip_ > 0.0) {
        if (!drag(0.5 * (ahead_ + to.speed), 0.5 * (turning_ + to.turning), stride.h_s, loses)) {
            return false;
        }
        to = closed_form(stride, part, loses);
    }
    const double half = 0.5 * apart_;
    if (!bears_by_far(to, part, stride) ||
        (play_mm_ > 0.0 && !has_both(part, to.speed - half * to.turning, to.speed + half * to.turning))) {
        return false;
    }
    take(body, to);
    return true;
}

/// As much of a stride as both tyres hold; tells what is left of it.
double Drivetrain::roll(Body& body, const Stride& stride) {
    constexpr int most_parts = 5; // a motor comes to the end of its play within a stride
    double left_s = stride.h_s;
    for (int piece = 0; piece < most_parts && left_s > 0.0; ++piece) {
        double part = volts();
        AtWork at_work{true, true};
        if (play_mm_ > 0.0) {
            for (std::size_t k = 0; k < wheels_.size(); ++k) {
                at_work[k] = has_it(wheels_[k], part * wheels_[k].target - wheels_[k].spin);
            }
        }
        Losses loses = rubbing();
        if (!drag(ahead_, turning_, stride.h_s, loses)) {
            break;
        }
        Rolled to;
        if (at_work[0] && at_work[1] && !(left_s < stride.h_s)) {
            part = volts_that_last(stride, loses);
            to = closed_form(stride, part, loses);
        } else {
            to = by_midpoint(left_s, part, loses, at_work);
            part = std::min(full_part_, volts_in_the_middle(to));
            to = by_midpoint(left_s, part, loses, at_work);
        }
        const double until = play_ends(to, part, at_work);
        if (until < to.h_s && piece + 1 < most_parts) {
            to = by_midpoint(until, part, loses, at_work);
        }
        if (!bears(to, part, at_work)) {
            break;
        }
        cross_play(to, part, at_work);
        take(body, to);
        left_s -= to.h_s;
    }
    return left_s;
}

/// When the first motor that is in the play of its gear comes to the end of it.
double Drivetrain::play_ends(const Rolled& to, double part, const AtWork& at_work) const {
    double until = to.h_s;
    if (at_work[0] && at_work[1]) {
        return until;
    }
    for (std::size_t k = 0; k < wheels_.size(); ++k) {
        if (!at_work[k]) {
            const double gains = gains_on(wheels_[k], to, part);
            const double gap = gains > 0.0 ? play_mm_ - wheels_[k].play : wheels_[k].play;
            if (std::abs(gains) * until > gap) {
                until = gap / std::abs(gains);
            }
        }
    }
    return std::max(until, 1e-6);
}

/// How much faster a motor that is free goes than its wheel.
double Drivetrain::gains_on(const Wheel& wheel, const Rolled& to, double part) const {
    return part * wheel.target - (to.way - wheel.side * to.turned) / to.h_s;
}

void Drivetrain::cross_play(const Rolled& to, double part, const AtWork& at_work) {
    constexpr double all_but = 1e-9; // mm
    for (std::size_t k = 0; k < wheels_.size(); ++k) {
        if (at_work[k]) {
            continue;
        }
        Wheel& wheel = wheels_[k];
        const double before = wheel.play;
        wheel.play = std::clamp(before + gains_on(wheel, to, part) * to.h_s, 0.0, play_mm_);
        wheel.counted_mm += wheel.play - before;
        if (wheel.play < all_but) {
            wheel.play = 0.0;
        } else if (wheel.play > play_mm_ - all_but) {
            wheel.play = play_mm_;
        }
    }
}

} // namespace vast_turn
