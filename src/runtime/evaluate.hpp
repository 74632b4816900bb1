#pragma once

/// Expressions: a stack of numbers, one pass over the code. In a header, so that what a look passes through
/// most is compiled as one piece.

#include "vast_turn/runtime/arithmetic.hpp"
#include "vast_turn/runtime/machine.hpp"

namespace vast_turn::runtime {

constexpr double truth(bool b) { return b ? 1.0 : 0.0; }

constexpr bool is_true(double x) { return x > 0.5; }

constexpr double magnitude(double x) { return x < 0.0 ? -x : x; }

constexpr int bit_count(std::uint8_t bits) {
    int count = 0;
    for (; bits != 0; bits = static_cast<std::uint8_t>(bits & (bits - 1))) {
        ++count;
    }
    return count;
}

/// What is kept is settled, and what comes out; the products between are no larger than 1e24, so they need not be.
template <class Numbers>
inline double Machine::pid(double clock_ms, double* cells, double error, const double* gains,
                           std::uint32_t& faults) const {
    constexpr double most = 100.0; // percent: what the motors can give
    const double last = cells[pid_look];
    if (last >= look_number_) [[unlikely]] { // asked for again in this look
        return cells[pid_value];
    }
    constexpr auto kept = Numbers::kept;
    const double kp = kept(gains[0]);
    const double ki = kept(gains[1]);
    const double kd = kept(gains[2]);
    const double ms = kept(kept(clock_ms) - held_.ms);
    const double passed_ms = kept(ms - cells[pid_ms]);
    const auto integral_part = [&] {
        const double part = kept(ki * cells[pid_integral]);
        if (__builtin_fabs(part) <= most) [[likely]] {
            return part;
        }
        const double cut = part > 0.0 ? most : -most;
        cells[pid_integral] = kept(cut / ki);
        return cut;
    };
    double value = kept(kp * error);
    if (last >= 1.0) [[likely]] {
        if (last >= free_look_ && passed_ms > 0.0) [[likely]] { // it goes on from the look before
            cells[pid_integral] =
                settled<Numbers>(cells[pid_integral] + kept(kept(error * passed_ms) / 1000.0), faults);
            value = kept(value + integral_part());
            const double slope = settled<Numbers>(kept(kept(error - cells[pid_error]) * 1000.0) / passed_ms, faults);
            value = kept(value + kept(kd * slope));
        } else {
            value = kept(value + integral_part());
        }
    }
    value = settled<Numbers>(value, faults);
    cells[pid_error] = error;
    cells[pid_ms] = ms;
    cells[pid_look] = look_number_;
    cells[pid_value] = value;
    return value;
}

// The compiler of plans has seen to it that an operand is on the stack before it is taken; the analyzer
// cannot know that.
// NOLINTBEGIN(clang-analyzer-core.*)

/// What an input is now. What is read is settled: a reading that is no number counts as 0.
template <class Numbers>
[[gnu::always_inline]] inline double Machine::looked_up(const Context& at, const Instruction& step,
                                                        const double* constants, std::uint32_t& faults) const {
    const Look& in = *at.look;
    const Marks& now = *at.now;
    const Marks& began = *at.began;
    switch (step.op) {
    case Op::constant: return Numbers::kept(constants[step.b]);
    case Op::sensor: return settled<Numbers>(in.sensor[step.a], faults);
    case Op::raw: return settled<Numbers>(in.raw[step.a], faults);
    case Op::offset: return settled<Numbers>(in.offset, faults);
    case Op::weighted: return settled<Numbers>(weighted_, faults);
    case Op::seen: return bit_count(in.line_bits);
    case Op::last_side: return settled<Numbers>(in.last_side, faults);
    case Op::clock: return settled<Numbers>(in.clock_ms, faults);
    case Op::elapsed: return settled<Numbers>(now.ms - began.ms, faults);
    case Op::looks: return settled<Numbers>(now.looks - began.looks, faults);
    case Op::travelled: return settled<Numbers>(magnitude(now.way_mm - began.way_mm), faults);
    case Op::turned: return settled<Numbers>(magnitude(now.heading_deg[step.a] - began.heading_deg[step.a]), faults);
    case Op::heading: return settled<Numbers>(in.heading_deg, faults);
    case Op::battery: return settled<Numbers>(in.battery_pct, faults);
    case Op::range: return settled<Numbers>(in.range_mm, faults);
    case Op::button: return truth(in.button);
    case Op::marker: return truth((((step.a == 0 ? in.markers : in.markers_at[step.a - 1]) >> step.b) & 1) != 0);
    case Op::heard: return truth(((static_cast<unsigned>(in.heard) >> step.b) & 1U) != 0);
    case Op::var: return storage_.cells[step.b];
    case Op::cell: return at.cells[step.b];
    case Op::fresh: return truth(at.cells[step.b] > 1.5);
    case Op::pattern: return truth((in.line_bits & step.a) == step.b);
    default: return truth(storage_.watches[step.b].holds);
    }
}

/// One number made another.
template <class Numbers> [[gnu::always_inline]] inline double Machine::changed(const Context& at, Op op, double x) {
    switch (op) {
    case Op::negate: return -x;
    case Op::abs: return magnitude(x);
    case Op::invert: return truth(!is_true(x));
    default: // rolled: x is the side
        return magnitude(
            Numbers::kept(x > 0.0 ? at.now->left_deg - at.began->left_deg : at.now->right_deg - at.began->right_deg));
    }
}

/// Two numbers made one.
template <class Numbers>
[[gnu::always_inline]] inline double Machine::joined(Op op, double a, double b, std::uint32_t& faults) const {
    switch (op) {
    case Op::add: return settled<Numbers>(a + b, faults);
    case Op::subtract: return settled<Numbers>(a - b, faults);
    case Op::multiply: return settled<Numbers>(a * b, faults);
    case Op::divide: return divided<Numbers>(a, b, faults);
    case Op::min: return a < b ? a : b;
    case Op::max: return a > b ? a : b;
    case Op::less: return truth(a < b);
    case Op::less_equal: return truth(a <= b);
    case Op::greater: return truth(a > b);
    case Op::greater_equal: return truth(a >= b);
    case Op::equal: return truth(!(a < b) && !(a > b));
    case Op::not_equal: return truth(a < b || a > b);
    case Op::both: return truth(is_true(a) && is_true(b));
    case Op::either: return truth(is_true(a) || is_true(b));
    default: return ramp(a, b, faults);
    }
}

/// What can be given of it: -100 to 100 percent.
[[gnu::always_inline]] inline Machine::Wheels Machine::kept_within_power(const Wheels& asked) {
    constexpr double most = 100.0;
    return {clamped(asked.left, -most, most), clamped(asked.right, -most, most), true};
}

/// The powers that a motion asks for; `top` stands behind the last of its numbers.
template <class Numbers>
[[gnu::always_inline]] inline Machine::Wheels Machine::asked(const Instruction& step, const double* constants,
                                                             const double* top) {
    if (step.op == Op::still) {
        return {};
    }
    const double power = step.a != 0 ? Numbers::kept(constants[step.b]) : *--top;
    switch (step.op) {
    case Op::wheels: return {top[-1], power, true};
    case Op::ahead: return {power, power, true};
    case Op::bend: return {Numbers::kept(power - top[-1]), Numbers::kept(power + top[-1]), true};
    case Op::pivot: return top[-1] > 0.0 ? Wheels{0.0, power, true} : Wheels{power, 0.0, true};
    default: return top[-1] > 0.0 ? Wheels{-power, power, true} : Wheels{power, -power, true}; // rotate
    }
}

/// Does the steps of expressions and motions up to the first instruction that is neither, which it returns.
/// `stack_top` points behind the last number; a motion takes all there are. The kinds of steps stand in this order in
/// runtime::Op; what plans ask most often has a case of its own, which makes a look faster (bench/, plan_look).
template <class Numbers>
[[gnu::always_inline]] inline const Instruction* Machine::values(const Context& at, const Instruction* next,
                                                                 const double* constants, double*& stack_top,
                                                                 Wheels& wheels, std::uint32_t& faults) const {
    const Look& in = *at.look;
    double* top = stack_top;
    for (;; ++next) {
        const Instruction& step = *next;
        switch (step.op) {
        case Op::constant: *top++ = Numbers::kept(constants[step.b]); break;
        case Op::sensor: *top++ = settled<Numbers>(in.sensor[step.a], faults); break;
        case Op::offset: *top++ = settled<Numbers>(in.offset, faults); break;
        case Op::pattern: *top++ = truth((in.line_bits & step.a) == step.b); break;
        case Op::watch: *top++ = truth(storage_.watches[step.b].holds); break;
        case Op::negate:
        case Op::abs:
        case Op::invert:
        case Op::rolled: top[-1] = changed<Numbers>(at, step.op, top[-1]); break;
        case Op::clamp:
            top -= 2;
            top[-1] = clamped(top[-1], top[0], top[1]);
            break;
        case Op::pid:
            top -= 3;
            top[-1] = pid<Numbers>(in.clock_ms, at.cells + step.b, top[-1], top, faults);
            break;
        case Op::pid_by: {
            const double error = step.a != 0 ? settled<Numbers>(in.offset, faults) : *--top;
            ++next;
            *top++ = pid<Numbers>(in.clock_ms, at.cells + step.b, error, constants + next->b, faults);
            break;
        }
        case Op::wheels:
        case Op::ahead:
        case Op::bend:
        case Op::pivot:
        case Op::rotate:
        case Op::still:
            wheels = kept_within_power(asked<Numbers>(step, constants, top));
            top = stack_top;
            if (next[1].op == Op::end) {
                return next + 1; // that was all there is to do
            }
            break;
        case Op::keep: wheels.moved = true; break;
        default:
            if (step.op > Op::keep) {
                stack_top = top;
                return next;
            }
            if (step.op < Op::negate) {
                *top++ = looked_up<Numbers>(at, step, constants, faults);
            } else {
                --top;
                top[-1] = joined<Numbers>(step.op, top[-1], top[0], faults);
            }
        }
    }
}

// NOLINTEND(clang-analyzer-core.*)

} // namespace vast_turn::runtime
