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
inline double Machine::pid(double clock_ms, double* cells, double error, const double* gains,
                           std::uint32_t& faults) const {
    constexpr double most = 100.0; // percent: what the motors can give
    const double last = cells[pid_look];
    if (last >= look_number_) [[unlikely]] { // asked for again in this look
        return cells[pid_value];
    }
    const double ms = clock_ms - held_.ms;
    const double passed_ms = ms - cells[pid_ms];
    const auto integral_part = [&] {
        const double part = gains[1] * cells[pid_integral];
        if (__builtin_fabs(part) <= most) [[likely]] {
            return part;
        }
        const double kept = part > 0.0 ? most : -most;
        cells[pid_integral] = kept / gains[1];
        return kept;
    };
    double value = gains[0] * error;
    if (last >= 1.0) [[likely]] {
        if (last >= free_look_ && passed_ms > 0.0) [[likely]] { // it goes on from the look before
            cells[pid_integral] = settled(cells[pid_integral] + error * passed_ms / 1000.0, faults);
            value += integral_part();
            value += gains[2] * settled((error - cells[pid_error]) * 1000.0 / passed_ms, faults);
        } else {
            value += integral_part();
        }
    }
    value = settled(value, faults);
    cells[pid_error] = error;
    cells[pid_ms] = ms;
    cells[pid_look] = look_number_;
    cells[pid_value] = value;
    return value;
}

// The compiler of plans has seen to it that an operand is on the stack before it is taken; the analyzer
// cannot know that.
// NOLINTBEGIN(clang-analyzer-core.*)

/// Does the steps of expressions and motions up to the first instruction that is neither, which it returns.
/// `top` points behind the last number; a motion takes all there are.
[[gnu::always_inline]] inline const Instruction* Machine::values(const Context& at, const Instruction* next,
                                                                 const double* constants, double*& stack_top,
                                                                 Wheels& wheels, std::uint32_t& faults) const {
    const Look& in = *at.look;
    const Marks& now = *at.now;
    const Marks& began = *at.began;
    double* top = stack_top;
    // What is read is settled: a reading that is no number counts as 0.
    const auto push = [&](double x) { *top++ = settled(x, faults); };
    const auto join = [&](double x) {
        --top;
        top[-1] = x;
    };
    // Sets the wheels; whether that was all there is to do.
    const auto turn = [&](double left, double right) {
        constexpr double most = 100.0; // percent
        wheels.left = clamped(left, -most, most);
        wheels.right = clamped(right, -most, most);
        wheels.moved = true;
        top = stack_top;
        return next[1].op == Op::end;
    };
    const auto last = [&] { return next->a != 0 ? constants[next->b] : *--top; };
    while (true) {
        const Instruction& instruction = *next;
        switch (instruction.op) {
        case Op::constant: *top++ = constants[instruction.b]; break;
        case Op::sensor: push(in.sensor[instruction.a]); break;
        case Op::raw: push(in.raw[instruction.a]); break;
        case Op::offset: push(in.offset); break;
        case Op::weighted: push(weighted_); break;
        case Op::seen: *top++ = bit_count(in.line_bits); break;
        case Op::last_side: push(in.last_side); break;
        case Op::clock: push(in.clock_ms); break;
        case Op::elapsed: push(now.ms - began.ms); break;
        case Op::looks: push(now.looks - began.looks); break;
        case Op::travelled: push(magnitude(now.way_mm - began.way_mm)); break;
        case Op::turned: push(magnitude(now.heading_deg[instruction.a] - began.heading_deg[instruction.a])); break;
        case Op::heading: push(in.heading_deg); break;
        case Op::battery: push(in.battery_pct); break;
        case Op::range: push(in.range_mm); break;
        case Op::button: *top++ = truth(in.button); break;
        case Op::marker: {
            const unsigned in_view = instruction.a == 0 ? in.markers : in.markers_at[instruction.a - 1];
            *top++ = truth(((in_view >> instruction.b) & 1U) != 0);
            break;
        }
        case Op::heard: *top++ = truth(((static_cast<unsigned>(in.heard) >> instruction.b) & 1U) != 0); break;
        case Op::var: *top++ = storage_.cells[instruction.b]; break;
        case Op::cell: *top++ = at.cells[instruction.b]; break;
        case Op::fresh: *top++ = truth(at.cells[instruction.b] > 1.5); break;
        case Op::pattern: *top++ = truth((in.line_bits & instruction.a) == instruction.b); break;
        case Op::watch: *top++ = truth(storage_.watches[instruction.b].holds); break;
        case Op::negate: top[-1] = -top[-1]; break;
        case Op::abs: top[-1] = magnitude(top[-1]); break;
        case Op::invert: top[-1] = truth(!is_true(top[-1])); break;
        case Op::rolled:
            top[-1] = magnitude(top[-1] > 0.0 ? now.left_deg - began.left_deg : now.right_deg - began.right_deg);
            break;
        case Op::add: join(settled(top[-2] + top[-1], faults)); break;
        case Op::subtract: join(settled(top[-2] - top[-1], faults)); break;
        case Op::multiply: join(settled(top[-2] * top[-1], faults)); break;
        case Op::divide: join(divided(top[-2], top[-1], faults)); break;
        case Op::min: join(top[-2] < top[-1] ? top[-2] : top[-1]); break;
        case Op::max: join(top[-2] > top[-1] ? top[-2] : top[-1]); break;
        case Op::clamp: {
            const double x = clamped(top[-3], top[-2], top[-1]);
            top -= 2;
            top[-1] = x;
            break;
        }
        case Op::less: join(truth(top[-2] < top[-1])); break;
        case Op::less_equal: join(truth(top[-2] <= top[-1])); break;
        case Op::greater: join(truth(top[-2] > top[-1])); break;
        case Op::greater_equal: join(truth(top[-2] >= top[-1])); break;
        case Op::equal: join(truth(!(top[-2] < top[-1]) && !(top[-2] > top[-1]))); break;
        case Op::not_equal: join(truth(top[-2] < top[-1] || top[-2] > top[-1])); break;
        case Op::both: join(truth(is_true(top[-2]) && is_true(top[-1]))); break;
        case Op::either: join(truth(is_true(top[-2]) || is_true(top[-1]))); break;
        case Op::pid:
            top -= 3;
            top[-1] = pid(in.clock_ms, at.cells + instruction.b, top[-1], top, faults);
            break;
        case Op::pid_by: {
            const double error = instruction.a != 0 ? settled(in.offset, faults) : *--top;
            ++next;
            *top++ = pid(in.clock_ms, at.cells + instruction.b, error, constants + next->b, faults);
            break;
        }
        case Op::ramp: join(ramp(top[-2], top[-1], faults)); break;
        case Op::wheels: {
            const double power = last();
            if (turn(top[-1], power)) {
                return next + 1;
            }
            break;
        }
        case Op::ahead: {
            const double power = last();
            if (turn(power, power)) {
                return next + 1;
            }
            break;
        }
        case Op::bend: {
            const double power = last();
            if (turn(power - top[-1], power + top[-1])) {
                return next + 1;
            }
            break;
        }
        case Op::pivot: {
            const double power = last();
            if (turn(top[-1] > 0.0 ? 0.0 : power, top[-1] > 0.0 ? power : 0.0)) {
                return next + 1;
            }
            break;
        }
        case Op::rotate: {
            const double power = last();
            if (turn(top[-1] > 0.0 ? -power : power, top[-1] > 0.0 ? power : -power)) {
                return next + 1;
            }
            break;
        }
        case Op::still:
            if (turn(0.0, 0.0)) {
                return next + 1;
            }
            break;
        case Op::keep: wheels.moved = true; break;
        case Op::once:
        case Op::note:
        case Op::light:
        case Op::sound:
        case Op::tell:
        case Op::set:
        case Op::give:
        case Op::call:
        case Op::become:
        case Op::done:
        case Op::halt:
        case Op::hold:
        case Op::end: stack_top = top; return next;
        }
        ++next;
    }
}

// NOLINTEND(clang-analyzer-core.*)

} // namespace vast_turn::runtime
