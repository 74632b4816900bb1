/// Expressions: a stack of numbers, one pass over the code.

#include "vast_turn/plan/runtime/arithmetic.hpp"
#include "vast_turn/plan/runtime/machine.hpp"

namespace vast_turn::runtime {

namespace {

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

} // namespace

double Machine::input(const Instruction& instruction) const {
    const Look& in = *context_.look;
    const Marks& now = *context_.now;
    const Marks& began = *context_.began;
    switch (instruction.op) {
    case Op::sensor: return in.sensor[instruction.a];
    case Op::raw: return in.raw[instruction.a];
    case Op::offset: return in.offset;
    case Op::weighted: return weighted_;
    case Op::seen: return bit_count(in.line_bits);
    case Op::last_side: return in.last_side;
    case Op::clock: return in.clock_ms;
    case Op::elapsed: return now.ms - began.ms;
    case Op::looks: return now.looks - began.looks;
    case Op::travelled: return magnitude(now.way_mm - began.way_mm);
    case Op::turned: return magnitude(now.heading_deg[instruction.a] - began.heading_deg[instruction.a]);
    case Op::heading: return in.heading_deg;
    case Op::battery: return in.battery_pct;
    case Op::range: return in.range_mm;
    case Op::button: return truth(in.button);
    case Op::marker: {
        const unsigned in_view = instruction.a == 0 ? in.markers : in.markers_at[instruction.a - 1];
        return truth(((in_view >> instruction.b) & 1U) != 0);
    }
    case Op::heard: return truth(((static_cast<unsigned>(in.heard) >> instruction.b) & 1U) != 0);
    case Op::var: return storage_.cells[instruction.b];
    case Op::cell: return context_.cells[instruction.b];
    case Op::fresh: return truth(context_.cells[instruction.b] > 1.5);
    case Op::pattern: return truth((in.line_bits & instruction.a) == instruction.b);
    case Op::watch: return truth(storage_.watches[instruction.b].holds);
    default: return 0.0;
    }
}

double Machine::pid(double* cells, const double* terms, std::uint32_t& faults) const {
    if (cells[pid_look] == static_cast<double>(look_)) { // NOLINT: a number of a look, exact
        return cells[pid_value];
    }
    const double error = terms[0];
    const double ki = terms[2];
    const bool first = cells[pid_look] < 1.0;
    const double seconds = (now_.ms - cells[pid_ms]) / 1000.0;
    const bool goes_on = !first && cells[pid_look] >= free_look_ && seconds > 0.0;
    double value = settled(terms[1] * error, faults);
    if (goes_on) {
        cells[pid_integral] = settled(cells[pid_integral] + settled(error * seconds, faults), faults);
    }
    if (!first) {
        constexpr double most = 100.0; // percent: what the motors can give
        double part = settled(ki * cells[pid_integral], faults);
        if (part > most || part < -most) {
            part = part > 0.0 ? most : -most;
            cells[pid_integral] = divided(part, ki, faults);
        }
        value = settled(value + part, faults);
    }
    if (goes_on) {
        const double slope = settled((error - cells[pid_error]) / seconds, faults);
        value = settled(value + settled(terms[3] * slope, faults), faults);
    }
    cells[pid_error] = error;
    cells[pid_ms] = now_.ms;
    cells[pid_look] = static_cast<double>(look_);
    cells[pid_value] = value;
    return value;
}

double Machine::ramp(double from, double to, std::uint32_t& faults) const {
    const Frame& frame = storage_.frames[context_.frame];
    const Item& item = program_.items[program_.blocks[frame.block].first_item + frame.item];
    const double part = frame.item_limit > 0.0 ? clamped(measure(frame, item) / frame.item_limit, 0.0, 1.0) : 1.0;
    return settled(from + settled((to - from) * part, faults), faults);
}

// The compiler of plans has seen to it that an operand is on the stack before it is taken; the analyzer
// cannot know that.
// NOLINTBEGIN(clang-analyzer-core.*)

/// Does the steps of an expression up to the first instruction that is none of it, which it returns.
/// `top` points behind the last number.
const Instruction* Machine::values(const Instruction* next, const double* constants, double*& stack_top,
                                   std::uint32_t& faults) const {
    double* top = stack_top;
    while (true) {
        const Instruction& instruction = *next;
        switch (instruction.op) {
        case Op::constant: *top++ = constants[instruction.b]; break;
        case Op::negate: top[-1] = -top[-1]; break;
        case Op::abs: top[-1] = magnitude(top[-1]); break;
        case Op::invert: top[-1] = truth(!is_true(top[-1])); break;
        case Op::rolled: {
            const Marks& now = *context_.now;
            const Marks& began = *context_.began;
            top[-1] = magnitude(top[-1] > 0.0 ? now.left_deg - began.left_deg : now.right_deg - began.right_deg);
            break;
        }
        case Op::add: --top, top[-1] = settled(top[-1] + top[0], faults); break;
        case Op::subtract: --top, top[-1] = settled(top[-1] - top[0], faults); break;
        case Op::multiply: --top, top[-1] = settled(top[-1] * top[0], faults); break;
        case Op::divide: --top, top[-1] = divided(top[-1], top[0], faults); break;
        case Op::min: --top, top[-1] = top[-1] < top[0] ? top[-1] : top[0]; break;
        case Op::max: --top, top[-1] = top[-1] > top[0] ? top[-1] : top[0]; break;
        case Op::clamp: top -= 2, top[-1] = clamped(top[-1], top[0], top[1]); break;
        case Op::less: --top, top[-1] = truth(top[-1] < top[0]); break;
        case Op::less_equal: --top, top[-1] = truth(top[-1] <= top[0]); break;
        case Op::greater: --top, top[-1] = truth(top[-1] > top[0]); break;
        case Op::greater_equal: --top, top[-1] = truth(top[-1] >= top[0]); break;
        case Op::equal: --top, top[-1] = truth(!(top[-1] < top[0]) && !(top[-1] > top[0])); break;
        case Op::not_equal: --top, top[-1] = truth(top[-1] < top[0] || top[-1] > top[0]); break;
        case Op::both: --top, top[-1] = truth(is_true(top[-1]) && is_true(top[0])); break;
        case Op::either: --top, top[-1] = truth(is_true(top[-1]) || is_true(top[0])); break;
        case Op::pid: top -= 3, top[-1] = pid(context_.cells + instruction.b, top - 1, faults); break;
        case Op::ramp: --top, top[-1] = ramp(top[-1], top[0], faults); break;
        default:
            if (instruction.op > Op::watch) {
                stack_top = top;
                return next;
            }
            *top++ = settled(input(instruction), faults); // a reading that is no number counts as 0
            break;
        }
        ++next;
    }
}

double Machine::evaluate(std::uint16_t at) {
    double stack[stack_depth];
    double* top = stack;
    values(program_.code + at, program_.constants, top, faults_);
    return top[-1];
}

double Machine::value_of(const Instruction* code, const double* constants) const {
    double stack[stack_depth];
    double* top = stack;
    std::uint32_t faults = 0;
    values(code, constants, top, faults);
    return top[-1];
}

// NOLINTEND(clang-analyzer-core.*)

bool Machine::is_true_at(std::uint16_t at) { return is_true(evaluate(at)); }

void Machine::use_plan() {
    context_.now = &raw_;
    context_.began = &plan_began_;
    context_.cells = storage_.cells;
    context_.frame = -1;
}

void Machine::use_block(int frame) {
    const Frame& f = storage_.frames[frame];
    context_.now = &now_;
    context_.began = &f.block_began;
    context_.cells = storage_.cells + f.cells;
    context_.frame = frame;
}

void Machine::use_item(int frame) {
    use_block(frame);
    context_.began = &storage_.frames[frame].item_began;
}

} // namespace vast_turn::runtime
