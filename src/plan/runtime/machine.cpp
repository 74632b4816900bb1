#include "vast_turn/plan/runtime/machine.hpp"

#include "vast_turn/plan/runtime/arithmetic.hpp"
#include "vast_turn/sense/line_position.hpp"

namespace vast_turn::runtime {

namespace {

constexpr double power_limit = 100.0;

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

/// The result of a two-sided operation.
constexpr double combined(Op op, double x, double y, std::uint32_t& faults) {
    switch (op) {
    case Op::add: return settled(x + y, faults);
    case Op::subtract: return settled(x - y, faults);
    case Op::multiply: return settled(x * y, faults);
    case Op::divide: return divided(x, y, faults);
    case Op::min: return x < y ? x : y;
    case Op::max: return x > y ? x : y;
    case Op::less: return truth(x < y);
    case Op::less_equal: return truth(x <= y);
    case Op::greater: return truth(x > y);
    case Op::greater_equal: return truth(x >= y);
    case Op::equal: return truth(!(x < y) && !(x > y));
    case Op::not_equal: return truth(x < y || x > y);
    case Op::both: return truth(is_true(x) && is_true(y));
    case Op::either: return truth(is_true(x) || is_true(y));
    default: return 0.0;
    }
}

} // namespace

Machine::Machine(const Program& program, WatchState* watches) : program_(program), watches_(watches) { reset(); }

void Machine::reset() {
    left_ = right_ = 0.0;
    began_ms_ = began_way_ = began_heading_ = began_left_ = began_right_ = weighted_ = 0.0;
    began_looks_ = look_ = faults_ = 0;
    block_ = 0;
    acting_ = no_rule;
    started_ = halted_ = false;
    for (std::uint16_t i = 0; i < program_.watch_count; ++i) {
        watches_[i] = WatchState{};
    }
}

double Machine::input(const Instruction& instruction, const Look& in) const {
    switch (instruction.op) {
    case Op::constant: return program_.constants[instruction.b];
    case Op::sensor: return in.sensor[instruction.a];
    case Op::raw: return in.raw[instruction.a];
    case Op::offset: return in.offset;
    case Op::weighted: return weighted_;
    case Op::seen: return bit_count(in.line_bits);
    case Op::last_side: return in.last_side;
    case Op::clock: return in.clock_ms;
    case Op::elapsed: return in.clock_ms - began_ms_;
    case Op::looks: return static_cast<double>(look_ - began_looks_);
    case Op::travelled: return magnitude(in.way_mm - began_way_);
    case Op::turned: return magnitude(in.heading_deg - began_heading_);
    case Op::heading: return in.heading_deg;
    case Op::battery: return in.battery_pct;
    case Op::range: return in.range_mm;
    case Op::button: return truth(in.button);
    case Op::marker: return truth(((in.markers >> instruction.b) & 1U) != 0);
    case Op::pattern: return truth((in.line_bits & instruction.a) == instruction.b);
    case Op::watch: return truth(watches_[instruction.b].holds);
    default: return 0.0;
    }
}

// The compiler of plans has seen to it that an operand is on the stack before it is taken; the analyzer
// cannot know that.
// NOLINTBEGIN(clang-analyzer-core.*)

/// Does one step of an expression; `top` points behind the last number. Returns false when the
/// instruction is none of an expression.
bool Machine::step(const Instruction& instruction, const Look& in, double*& top) {
    switch (instruction.op) {
    case Op::negate: top[-1] = -top[-1]; return true;
    case Op::abs: top[-1] = magnitude(top[-1]); return true;
    case Op::rolled:
        top[-1] = magnitude(top[-1] > 0.0 ? in.left_deg - began_left_ : in.right_deg - began_right_);
        return true;
    case Op::invert: top[-1] = truth(!is_true(top[-1])); return true;
    case Op::clamp:
        top -= 2;
        top[-1] = clamped(top[-1], top[0], top[1]);
        return true;
    default: break;
    }
    if (instruction.op <= Op::watch) {
        *top++ = input(instruction, in);
        return true;
    }
    if (instruction.op <= Op::either) {
        --top;
        top[-1] = combined(instruction.op, top[-1], top[0], faults_);
        return true;
    }
    return false;
}

double Machine::evaluate(std::uint16_t at, const Look& in) {
    double stack[stack_depth];
    double* top = stack;
    const Instruction* next = program_.code + at;
    while (step(*next, in, top)) {
        ++next;
    }
    return top[-1];
}

void Machine::update_watches(const Look& in) {
    for (std::uint16_t i = 0; i < program_.watch_count; ++i) {
        const Watch& watch = program_.watches[i];
        WatchState& state = watches_[i];
        if (!is_true(evaluate(watch.condition, in))) {
            state = WatchState{};
            continue;
        }
        if (state.looks == 0) {
            state.since_ms = in.clock_ms;
        }
        if (state.looks < 0xFFFFFFFFU) {
            ++state.looks;
        }
        state.holds = watch.in_looks ? state.looks >= watch.limit : in.clock_ms - state.since_ms >= watch.limit;
    }
}

bool Machine::holds(const Rule& rule, const Look& in) {
    return (in.line_bits & rule.mask) == rule.bits &&
           (rule.condition == no_code || is_true(evaluate(rule.condition, in)));
}

std::uint16_t Machine::first_rule_that_holds(const Block& block, const Look& in) {
    for (std::uint16_t i = 0; i < block.rules; ++i) {
        const auto rule = static_cast<std::uint16_t>(block.first_rule + i);
        if (holds(program_.rules[rule], in)) {
            return rule;
        }
    }
    return no_rule;
}

void Machine::move(Op motion, const double* top) {
    switch (motion) {
    case Op::wheels:
        left_ = top[-2];
        right_ = top[-1];
        break;
    case Op::ahead: left_ = right_ = top[-1]; break;
    case Op::bend:
        left_ = top[-1] - top[-2];
        right_ = top[-1] + top[-2];
        break;
    case Op::pivot:
        left_ = top[-2] > 0.0 ? 0.0 : top[-1];
        right_ = top[-2] > 0.0 ? top[-1] : 0.0;
        break;
    case Op::rotate:
        left_ = top[-2] > 0.0 ? -top[-1] : top[-1];
        right_ = -left_;
        break;
    case Op::still: left_ = right_ = 0.0; break;
    default: break;
    }
    left_ = clamped(left_, -power_limit, power_limit);
    right_ = clamped(right_, -power_limit, power_limit);
}

void Machine::enter(std::uint16_t block, const Look& in) {
    block_ = block;
    acting_ = no_rule;
    began_ms_ = in.clock_ms;
    began_way_ = in.way_mm;
    began_heading_ = in.heading_deg;
    began_left_ = in.left_deg;
    began_right_ = in.right_deg;
    began_looks_ = look_;
}

Machine::Outcome Machine::transfer(std::uint16_t block, const Look& in, Answer& out) {
    if (transfers_ == most_transfers) {
        out.add(EventKind::cut_short, block_);
        acting_ = no_rule; // so that the next look tries again
        return Outcome::acted;
    }
    ++transfers_;
    enter(block, in);
    return Outcome::moved_on;
}

Machine::Outcome Machine::act(std::uint16_t rule, const Look& in, Answer& out) {
    const bool begins = acting_ != rule;
    acting_ = rule;
    out.rule = rule;
    out.block = block_;
    if (trail_ != nullptr) {
        trail_->rule[trail_->count++] = rule;
    }
    double stack[stack_depth];
    double* top = stack;
    const Instruction* next = program_.code + program_.rules[rule].acts;
    while (true) {
        const Instruction& instruction = *next++;
        if (step(instruction, in, top)) {
            continue;
        }
        switch (instruction.op) {
        case Op::once:
            if (!begins) {
                next = program_.code + instruction.b;
            }
            break;
        case Op::note: out.add(EventKind::note, instruction.b); break;
        case Op::become: return transfer(instruction.b, in, out);
        case Op::halt: return Outcome::halted;
        case Op::end: return Outcome::acted;
        default:
            move(instruction.op, top);
            top = stack;
            break;
        }
    }
}

// NOLINTEND(clang-analyzer-core.*)

void Machine::finish(Answer& out) const {
    out.left_pct = halted_ ? 0.0 : left_;
    out.right_pct = halted_ ? 0.0 : right_;
    out.halted = halted_;
}

void Machine::look(const Look& in, Answer& out) {
    out.events = 0;
    out.events_lost = 0;
    out.rule = no_rule;
    out.block = block_;
    if (halted_) {
        finish(out);
        return;
    }
    if (started_) {
        ++look_;
    } else {
        started_ = true;
        enter(0, in);
    }
    if (program_.own_weights) {
        weighted_ = weighted_position(in.sensor, program_.weights, program_.sensors, weighted_);
    }
    update_watches(in);
    transfers_ = 0;
    if (trail_ != nullptr) {
        trail_->count = 0;
    }
    for (Outcome outcome = Outcome::moved_on; outcome == Outcome::moved_on;) {
        const std::uint16_t rule = first_rule_that_holds(program_.blocks[block_], in);
        if (rule == no_rule) {
            acting_ = no_rule;
            out.add(EventKind::unanswered, in.line_bits);
            break;
        }
        outcome = act(rule, in, out);
        halted_ = outcome == Outcome::halted;
    }
    finish(out);
}

} // namespace vast_turn::runtime
