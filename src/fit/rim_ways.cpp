#include "fit/rim_ways.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "sim/drivetrain.hpp"

namespace vast_turn {

MotorNumbers motor_numbers(const Robot& robot) {
    MotorNumbers out{robot.top_speed_mm_s * robot.motors.left.gain, robot.top_speed_mm_s * robot.motors.right.gain,
                     robot.motors.lag_ms, robot.delay_ms + mean_of_varying_ms(robot.delay_varies_ms),
                     robot.motors.dead_band_pct};
    if (robot.drive) {
        out.keep_pct = robot.drive->keep_pct;
        out.start_pct = robot.drive->starts_pct();
        out.sag = robot.drive->sag;
        out.run_down = robot.drive->run_down;
        out.uneven =
            (robot.motors.left.wheel - robot.motors.right.wheel) / (robot.motors.left.wheel + robot.motors.right.wheel);
    }
    return out;
}

Robot with_motors(Robot robot, const MotorNumbers& numbers) {
    if (left_is_measure(robot)) {
        robot.top_speed_mm_s = numbers.left_mm_s / robot.motors.left.gain;
        robot.motors.right.gain = numbers.right_mm_s / robot.top_speed_mm_s;
    } else {
        robot.top_speed_mm_s = numbers.right_mm_s / robot.motors.right.gain;
        robot.motors.left.gain = numbers.left_mm_s / robot.top_speed_mm_s;
    }
    robot.motors.lag_ms = numbers.lag_ms;
    robot.motors.dead_band_pct = numbers.dead_band_pct;
    robot.delay_ms = std::max(0.0, numbers.delay_ms - mean_of_varying_ms(robot.delay_varies_ms));
    if (robot.drive) {
        robot.drive->start_pct = std::max(numbers.start_pct, numbers.keep_pct);
        robot.drive->keep_pct = numbers.keep_pct;
        robot.drive->sag = numbers.sag;
        robot.drive->run_down = numbers.run_down;
    }
    return robot;
}

namespace {

double target(double full_mm_s, double power_pct, double dead_band_pct) {
    const double power = std::clamp(power_pct, -100.0, 100.0);
    return std::abs(power) < dead_band_pct ? 0.0 : power / 100.0 * full_mm_s;
}

/// Decays over the few durations that come again and again.
class Decays {
public:
    struct Decay {
        double seconds = -1.0;
        double left = 0.0;   // of a difference of speeds
        double gone_s = 0.0; // the integral of what is left
    };

    explicit Decays(double lag_s) : lag_s_(lag_s) {}

    const Decay& over(double seconds) {
        for (const Decay& known : known_) {
            if (std::abs(known.seconds - seconds) < 1e-12) {
                return known;
            }
        }
        next_ = (next_ + 1) % known_.size();
        known_[next_] = {seconds, lag_s_ > 0.0 ? std::exp(-seconds / lag_s_) : 0.0,
                         lag_s_ > 0.0 ? -lag_s_ * std::expm1(-seconds / lag_s_) : 0.0};
        return known_[next_];
    }

private:
    double lag_s_;
    std::size_t next_ = 0;
    std::array<Decay, 4> known_{};
};

struct Rim {
    double target = 0.0;
    double speed = 0.0;
    double way = 0.0;

    void go(const Decays::Decay& by) {
        const double rest = speed - target;
        way += target * by.seconds + rest * by.gone_s;
        speed = target + rest * by.left;
    }
};

RimWays by_the_lag(const DriveLog& log, const MotorNumbers& numbers, WheelSpeeds at_first) {
    RimWays out;
    out.left_mm.reserve(log.looks());
    out.right_mm.reserve(log.looks());
    Decays decays(std::max(0.0, numbers.lag_ms) / 1000.0);
    Rim left{at_first.left_mm_s, at_first.left_mm_s};
    Rim right{at_first.right_mm_s, at_first.right_mm_s};
    double now_ms = log.t_ms.front();
    const auto go_to = [&](double until_ms) {
        if (until_ms > now_ms) {
            const Decays::Decay& by = decays.over((until_ms - now_ms) / 1000.0);
            left.go(by);
            right.go(by);
            now_ms = until_ms;
        }
    };
    const double delay_ms = numbers.delay_ms; // below 0 while it is sought
    std::size_t next = 0;
    for (const double look_ms : log.t_ms) {
        for (; next < log.looks() && log.t_ms[next] + delay_ms < look_ms; ++next) {
            go_to(log.t_ms[next] + delay_ms);
            left.target = target(numbers.left_mm_s, log.left_pct[next], numbers.dead_band_pct);
            right.target = target(numbers.right_mm_s, log.right_pct[next], numbers.dead_band_pct);
        }
        go_to(look_ms);
        out.left_mm.push_back(left.way);
        out.right_mm.push_back(right.way);
    }
    return out;
}

/// A robot with weight is driven without delay in steps of a millisecond; that everything comes later by the delay is
/// the same as to look at it so much earlier, and there what stands between two steps is taken from a cubic.
class WeighedRims {
public:
    WeighedRims(const Robot& robot, const DriveLog& log, const MotorNumbers& numbers)
        : log_(log), numbers_(numbers), drivetrain_(robot, 1.0), left_wheel_(robot.motors.left.wheel),
          right_wheel_(robot.motors.right.wheel), apart_mm_(robot.skid_track_mm()) {}

    RimWays ways() {
        RimWays out;
        const double first_ms = log_.t_ms.front();
        std::int64_t command = 0;
        for (const double look_ms : log_.t_ms) {
            const double at_ms = std::max(0.0, look_ms - first_ms - numbers_.delay_ms);
            const auto before = static_cast<std::int64_t>(std::floor(at_ms));
            if (before >= step_) {
                command = go_to(before, command);
                was_ = body_;
                drivetrain_.advance(body_, 1, left_, right_); // commands come between steps
                ++step_;
            }
            const double part = at_ms - static_cast<double>(step_ - 1);
            const double left_mm =
                between(was_.left_counted_mm, body_.left_counted_mm, was_.left_mm_s, body_.left_mm_s, part);
            const double right_mm =
                between(was_.right_counted_mm, body_.right_counted_mm, was_.right_mm_s, body_.right_mm_s, part);
            out.left_mm.push_back(left_mm / left_wheel_); // encoders count turns
            out.right_mm.push_back(right_mm / right_wheel_);
            const double turned = was_.turned_rad + part * (body_.turned_rad - was_.turned_rad);
            out.slid_mm.push_back(0.5 * (apart_mm_ * turned - (right_mm - left_mm)));
        }
        return out;
    }

private:
    std::int64_t step_of(std::size_t look) const { return std::llround(log_.t_ms[look] - log_.t_ms.front()); }

    /// Moves to a step; commands that begin there are obeyed.
    std::int64_t go_to(std::int64_t step, std::int64_t command) {
        for (;;) {
            const auto next = static_cast<std::size_t>(command);
            const bool more = next < log_.looks() && step_of(next) <= step;
            const std::int64_t until = more ? step_of(next) : step;
            if (until > step_) {
                drivetrain_.advance(body_, static_cast<int>(until - step_), left_, right_);
                step_ = until;
            }
            if (!more) {
                return command;
            }
            left_ = target(left_wheel_ * numbers_.left_mm_s, log_.left_pct[next], numbers_.dead_band_pct);
            right_ = target(right_wheel_ * numbers_.right_mm_s, log_.right_pct[next], numbers_.dead_band_pct);
            ++command;
        }
    }

    /// Cubic Hermite over one millisecond.
    static double between(double from, double to, double from_mm_s, double to_mm_s, double part) {
        const double a = from_mm_s / 1000.0;
        const double b = to_mm_s / 1000.0;
        const double rise = to - from;
        return from + part * (a + part * (3.0 * rise - 2.0 * a - b + part * (a + b - 2.0 * rise)));
    }

    const DriveLog& log_;
    const MotorNumbers& numbers_;
    Drivetrain drivetrain_;
    double left_wheel_;
    double right_wheel_;
    double apart_mm_;
    Body was_{}; // a step before
    Body body_{};
    std::int64_t step_ = 0;
    double left_ = 0.0;
    double right_ = 0.0;
};

} // namespace

RimWays rim_ways(const Robot& robot, const DriveLog& log, const MotorNumbers& numbers, WheelSpeeds at_first) {
    if (!robot.drive) {
        return by_the_lag(log, numbers, at_first);
    }
    Robot sought = with_motors(robot, numbers);
    sought.motors.left.wheel = 1.0 + numbers.uneven;
    sought.motors.right.wheel = 1.0 - numbers.uneven;
    return WeighedRims(sought, log, numbers).ways();
}

} // namespace vast_turn
