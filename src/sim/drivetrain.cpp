#include "sim/drivetrain.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace vast_turn {

Drivetrain::Drivetrain(const Robot& robot, double step_ms)
    : apart_(robot.skid_track_mm()), outline_(robot), rub_(robot.drive->rub) {
    assert(robot.drive);
    const Drive& drive = *robot.drive;
    // A step longer than a close stride is a whole number of units; of short ones several make a stride.
    per_step_ = std::max(1, static_cast<int>(std::ceil(step_ms / 1000.0 / close_stride_s - 1e-9)));
    unit_s_ = step_ms / 1000.0 / per_step_;
    mass_ = drive.mass_g;
    wheel_mass_ = drive.wheel_g;
    inertia_ = drive.mass_g * drive.gyration_mm * drive.gyration_mm;
    turned_inertia_ = inertia_ + 0.5 * wheel_mass_ * apart_ * apart_;
    const double moved = mass_ + 2.0 * wheel_mass_;
    lag_s_ = std::max(robot.motors.lag_ms, 1.0) / 1000.0;
    push_ = moved / (2.0 * lag_s_);
    turn_lag_s_ = 2.0 * turned_inertia_ / (push_ * apart_ * apart_);
    const auto units_in = [this](double seconds) {
        return std::clamp(static_cast<std::size_t>(seconds / unit_s_ + 1e-9), std::size_t{1}, strides_.size());
    };
    longest_ = units_in(longest_stride_s);
    close_ = units_in(close_stride_s);
    for (std::size_t n = 1; n <= longest_; ++n) {
        const double h = static_cast<double>(n) * unit_s_;
        strides_[n - 1] = {h, std::exp(-h / lag_s_), std::exp(-h / turn_lag_s_), -lag_s_ * std::expm1(-h / lag_s_),
                           -turn_lag_s_ * std::expm1(-h / turn_lag_s_)};
    }
    most_grip_ = drive.grip * 0.5 * drive.on_wheels * mass_ * gravity_mm_s2;
    caster_grip_ = drive.caster_drag * (1.0 - drive.on_wheels) * mass_ * gravity_mm_s2;
    play_mm_ = drive.play_deg / 360.0 * pi * robot.wheel_mm;
    sag_ = drive.resistance();
    run_down_ = drive.run_down / 60.0;
    caster_ = drive.caster_mm;
    const auto fit = [&](Wheel& wheel, const Motor& motor, double side) {
        wheel.side = side;
        wheel.full_speed = robot.top_speed_mm_s * motor.gain * motor.wheel;
        wheel.keep = drive.keep_pct / 100.0 * wheel.full_speed;
        wheel.start = drive.starts_pct() / 100.0 * wheel.full_speed;
        wheel.play = play_mm_; // as it was pushed to its place
    };
    fit(wheels_[0], robot.motors.left, 0.5 * apart_);
    fit(wheels_[1], robot.motors.right, -0.5 * apart_);
}

void Drivetrain::go_on_from(const Drivetrain& other) {
    for (std::size_t i = 0; i < wheels_.size(); ++i) {
        const Wheel& then = other.wheels_[i];
        Wheel& now = wheels_[i];
        now.target = then.target;
        now.spin = then.spin;
        now.play = std::min(then.play, play_mm_);
        now.counted_mm = then.counted_mm;
        now.was_at_rest = then.was_at_rest;
    }
    pressed_ = other.pressed_;
    ahead_ = other.ahead_;
    sideways_ = other.sideways_;
    turning_ = other.turning_;
    time_s_ = other.time_s_;
    slid_s_ = other.slid_s_;
    holding_ = other.holding_;
}

/// What follows from the targets, for as long as they stay.
///
/// A motor that runs at a duty draws its current times the duty from the battery; the current is in proportion to what
/// the voltage exceeds the wheel's own. Solved for the voltage that is linear in the speeds of the wheels. None flows
/// back.
void Drivetrain::aim(double left_target, double right_target) {
    full_part_ = std::max(0.2, 1.0 - run_down_ * time_s_);
    wheels_[0].target = left_target;
    wheels_[1].target = right_target;
    const double left = left_target / wheels_[0].full_speed;
    const double right = right_target / wheels_[1].full_speed;
    const double by = 1.0 / (1.0 + sag_ * (left * left + right * right));
    held_part_ = full_part_ * by;
    left_gives_ = by * sag_ * left / wheels_[0].full_speed;
    right_gives_ = by * sag_ * right / wheels_[1].full_speed;
}

double Drivetrain::kinetic_uj() const {
    double twice = mass_ * (ahead_ * ahead_ + sideways_ * sideways_) + inertia_ * turning_ * turning_;
    for (const Wheel& wheel : wheels_) {
        twice += wheel_mass_ * wheel.spin * wheel.spin;
    }
    return 0.5 * twice / 1000.0;
}

/// Nothing moves, and no motor is strong enough to change that.
bool Drivetrain::stands_still() {
    const double moving = std::abs(ahead_) + std::abs(sideways_) + std::abs(turning_ * apart_) +
                          std::abs(wheels_[0].spin) + std::abs(wheels_[1].spin);
    if (moving > at_rest) {
        return false;
    }
    ahead_ = sideways_ = turning_ = wheels_[0].spin = wheels_[1].spin = 0.0;
    const double part = volts();
    for (const Wheel& wheel : wheels_) {
        const double pull = part * wheel.target;
        if (std::abs(pull) > wheel.start || (play_mm_ > 0.0 && !has_it(wheel, pull))) {
            return false;
        }
    }
    return true;
}

void Drivetrain::advance(Body& body, int steps, double left_target_mm_s, double right_target_mm_s) {
    constexpr double runs_down_every_s = 0.05;
    pressed_.clear();
    auto units = static_cast<std::size_t>(steps) * static_cast<std::size_t>(per_step_);
    double aimed_s = -1.0;
    while (units > 0) {
        if (aimed_s < 0.0 || time_s_ - aimed_s > runs_down_every_s) {
            aim(left_target_mm_s, right_target_mm_s);
            aimed_s = time_s_;
        }
        std::size_t n = std::min(units, longest_);
        if (!stands_still()) {
            const bool far = holding_ && !is_near_something(body, strides_[n - 1].h_s);
            if (!far || !roll_on(body, strides_[n - 1])) {
                n = std::min(n, close_);
                const bool rolls = holding_ && (far || !is_near_something(body, strides_[n - 1].h_s));
                const double left_s = rolls ? roll(body, strides_[n - 1]) : strides_[n - 1].h_s;
                if (left_s > 0.0) {
                    slide(body, left_s);
                }
            }
        }
        units -= n;
        time_s_ += strides_[n - 1].h_s;
    }
    body.left_mm_s = ahead_ - 0.5 * apart_ * turning_;
    body.right_mm_s = ahead_ + 0.5 * apart_ * turning_;
    body.left_counted_mm = wheels_[0].counted_mm;
    body.right_counted_mm = wheels_[1].counted_mm;
}

} // namespace vast_turn
