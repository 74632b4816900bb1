#include "vet/loop_model.hpp"

#include <algorithm>
#include <cmath>
#include <complex>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/runtime/line_position.hpp"
#include "vet/bend_model.hpp"

namespace vast_turn::vetting {

namespace {

using lang::Op;

using lang::Act;
using lang::Expr;

/// c + kp e + ki integral(e) + kd change(e), with e = offset.
struct Linear {
    double c = 0.0;
    double kp = 0.0;
    double ki = 0.0;
    double kd = 0.0;

    bool constant() const { return std::abs(kp) + std::abs(ki) + std::abs(kd) <= 0.0; }
};

Linear times(double k, Linear a) { return {k * a.c, k * a.kp, k * a.ki, k * a.kd}; }
Linear sum(Linear a, Linear b) { return {a.c + b.c, a.kp + b.kp, a.ki + b.ki, a.kd + b.kd}; }

std::optional<Linear> linear(const Expr& e);

std::optional<Linear> linear_call(const Expr& e) {
    if (is_call(e, Op::clamp)) {
        return linear(e.args[0]);
    }
    if (!is_call(e, Op::pid)) {
        return std::nullopt;
    }
    const auto error = linear(e.args[0]);
    const bool simple = error && std::abs(error->c) <= 0.0 && std::abs(error->ki) + std::abs(error->kd) <= 0.0;
    Linear out;
    for (std::size_t i = 1; i < 4; ++i) {
        const auto gain = linear(e.args[i]);
        if (!simple || !gain || !gain->constant()) {
            return std::nullopt;
        }
        (i == 1 ? out.kp : i == 2 ? out.ki : out.kd) = gain->c * error->kp;
    }
    return out;
}

std::optional<Linear> linear(const Expr& e) {
    if (const auto value = written_value(e)) {
        return Linear{*value, 0.0, 0.0, 0.0};
    }
    if (is_input(e, Op::offset)) {
        return Linear{0.0, 1.0, 0.0, 0.0};
    }
    if (e.is<lang::Call>()) {
        return linear_call(e);
    }
    if (e.is<lang::Unary>()) {
        const auto inner = linear(e.args[0]);
        return inner ? std::optional<Linear>(times(-1.0, *inner)) : std::nullopt;
    }
    if (!e.is<lang::Binary>()) {
        return std::nullopt;
    }
    const auto a = linear(e.args[0]);
    const auto b = linear(e.args[1]);
    if (!a || !b) {
        return std::nullopt;
    }
    if (is_binary(e, Op::add)) {
        return sum(*a, *b);
    }
    if (is_binary(e, Op::subtract)) {
        return sum(*a, times(-1.0, *b));
    }
    if (is_binary(e, Op::multiply) && (a->constant() || b->constant())) {
        return a->constant() ? times(a->c, *b) : times(b->c, *a);
    }
    if (is_binary(e, Op::divide) && b->constant() && std::abs(b->c) > 0.0) {
        return times(1.0 / b->c, *a);
    }
    return std::nullopt;
}

} // namespace

std::optional<Steering> steering_of(const Act& motion) {
    Linear left;
    Linear right;
    if (motion.motion == Op::bend || motion.motion == Op::wheels) {
        const auto a = linear(motion.args[0]);
        const auto b = linear(motion.args[1]);
        if (!a || !b) {
            return std::nullopt;
        }
        left = motion.motion == Op::wheels ? *a : sum(*b, times(-1.0, *a));
        right = motion.motion == Op::wheels ? *b : sum(*b, *a);
    } else {
        return std::nullopt;
    }
    const Linear steer = times(0.5, sum(right, times(-1.0, left)));
    const Linear speed = times(0.5, sum(right, left));
    if (steer.constant() || !speed.constant()) {
        return std::nullopt;
    }
    return Steering{steer.kp, steer.ki, steer.kd, speed.c};
}

namespace {

/// The describing function of `offset`: its part in step with a swing of this size, a mm.
class OffsetGain {
public:
    OffsetGain(const Robot& robot, double line_mm)
        : robot_(robot), line_mm_(line_mm), weights_(position_weights(robot)) {}

    double operator()(double swing_mm) const {
        constexpr int parts = 48; // of a quarter swing: the other three are alike
        double sum = 0.0;
        for (int i = 0; i < parts; ++i) {
            const double angle = 0.5 * pi * (i + 0.5) / parts;
            sum += offset_at(swing_mm * std::sin(angle)) * std::sin(angle);
        }
        return 2.0 * sum / parts / swing_mm;
    }

private:
    double offset_at(double aside_mm) const {
        double readings[max_sensors] = {};
        std::uint8_t bits = 0;
        for (std::size_t k = 0; k < robot_.sensors.size(); ++k) {
            const LineSensor& sensor = robot_.sensors[k];
            readings[k] = covered(std::abs(sensor.at_mm.y - aside_mm), line_mm_, sensor.spot_mm);
            bits = static_cast<std::uint8_t>(bits | (readings[k] > 0.5 ? 1U << k : 0U));
        }
        return weighted_position(readings, weights_.data(), static_cast<int>(robot_.sensors.size()), bits, 1.0);
    }

    const Robot& robot_;
    double line_mm_;
    std::vector<double> weights_;
};

/// The loop but for the gain of the array.
class Loop {
public:
    Loop(const Steering& steering, const Robot& robot)
        : steering_(steering), lag_s_(robot.motors.lag_ms / 1000.0),
          wait_s_((robot.delay_ms + 0.5 * robot.look_ms) / 1000.0), fastest_(pi * 1000.0 / robot.look_ms) {
        for (const LineSensor& sensor : robot.sensors) {
            ahead_ += sensor.at_mm.x / static_cast<double>(robot.sensors.size());
        }
        const double per_pct = robot.top_speed_mm_s / 100.0;
        speed_ = per_pct * steering.speed_pct;
        gain_ = 2.0 * per_pct / robot.skid_track_mm();
    }

    double margin_deg(double offset_per_mm) const {
        double margin = 180.0;
        double before = 0.0;
        constexpr double ratio = 1.02;
        constexpr double slowest = 0.2;
        const int steps = static_cast<int>(std::log(fastest_ / slowest) / std::log(ratio));
        for (int i = 0; i <= steps; ++i) {
            const double w = slowest * std::pow(ratio, i);
            const std::complex<double> s(0.0, w);
            const std::complex<double> controller = steering_.kp + steering_.ki / s + steering_.kd * s;
            const std::complex<double> seen = ahead_ * s + speed_;
            const double size =
                std::abs(controller * seen) * gain_ * offset_per_mm / (w * w * std::hypot(1.0, lag_s_ * w));
            // Each part's phase on its own, so that the sum does not wrap. The two integrations give -180 degrees.
            const double phase = std::arg(controller) + std::arg(seen) - pi - std::atan(lag_s_ * w) - wait_s_ * w;
            if (before > 1.0 && size <= 1.0) {
                margin = std::min(margin, to_degrees(phase) + 180.0);
            }
            before = size;
        }
        return before > 1.0 ? -180.0 : margin;
    }

private:
    Steering steering_;
    double lag_s_;
    double wait_s_;
    double fastest_;
    double ahead_ = 0.0;
    double speed_ = 0.0;
    double gain_ = 0.0;
};

} // namespace

LoopJudgement judge_loop(const Steering& steering, const Robot& robot, double line_mm) {
    const OffsetGain offset_gain(robot, line_mm);
    const Loop loop(steering, robot);
    double widest = 0.5 * line_mm;
    for (const LineSensor& sensor : robot.sensors) {
        widest = std::max(widest, std::abs(sensor.at_mm.y) + 0.5 * line_mm);
    }
    LoopJudgement out;
    double steepest = 0.0;
    constexpr double step_mm = 0.5;
    const int steps = static_cast<int>(widest / step_mm);
    for (int i = 1; i <= steps; ++i) {
        const double swing = i * step_mm;
        const double gain = offset_gain(swing);
        steepest = std::max(steepest, gain);
        if (loop.margin_deg(gain) < 0.0) {
            out.swing_mm = swing;
        }
    }
    out.phase_margin_deg = loop.margin_deg(steepest);
    return out;
}

} // namespace vast_turn::vetting
