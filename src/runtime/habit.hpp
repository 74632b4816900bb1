#pragma once

/// What every look passes through: watches, the rules of a habit, the acts of the one that holds. In a header, so
/// that the usual look is compiled as one piece.

#include "runtime/evaluate.hpp"

namespace vast_turn::runtime {

[[gnu::always_inline]] inline void Machine::update_watches(const Look& in, bool first) {
    const Watch* const end = program_.watches + program_.watch_count;
    WatchState* next = storage_.watches;
    for (const Watch* at = program_.watches; at != end; ++at) {
        const Watch& watch = *at;
        WatchState& state = *next++;
        const bool before = state.holds;
        const bool misses = (in.line_bits & watch.mask) != watch.bits;
        if (misses && state.looks == 0) [[likely]] { // nothing lasts and nothing begins: the usual case
            state.held = false;
            continue;
        }
        if (misses || (watch.condition != no_code && !plan_says(watch.condition))) {
            state = WatchState{};
        } else {
            if (state.looks == 0) {
                state.since_ms = kept(in.clock_ms);
            }
            state.looks += state.looks < 0xFFFFFFFFU ? 1U : 0U;
            switch (watch.kind) {
            case WatchKind::looks: state.holds = state.looks >= watch.limit; break;
            case WatchKind::time: state.holds = kept(kept(in.clock_ms) - state.since_ms) >= kept(watch.limit); break;
            case WatchKind::now: state.holds = true; break;
            }
        }
        state.held = first ? state.holds : before;
        state.spent = false;
    }
}

[[gnu::always_inline]] inline bool Machine::holds_beyond_pattern(const Rule& rule) {
    return (rule.watch == no_code || storage_.watches[rule.watch].holds) &&
           (rule.condition == no_code || is_true_at(rule.condition));
}

[[gnu::always_inline]] inline bool Machine::holds(const Rule& rule) {
    return (context_.look->line_bits & rule.mask) == rule.bits && holds_beyond_pattern(rule);
}

/// The first rule of a habit that holds, null when none does. The context is the habit's.
[[gnu::always_inline]] inline const Rule* Machine::answering_rule(const Block& block, unsigned bits) {
    const Rule* rule = program_.rules + block.first_rule;
    for (unsigned left = block.rules; left != 0; --left, ++rule) {
        if ((bits & rule->mask) == rule->bits && holds_beyond_pattern(*rule)) {
            return rule;
        }
    }
    return nullptr;
}

// NOLINTBEGIN(clang-analyzer-core.*): as in evaluate.hpp

/// Carries out the acts of a rule, guard or item in the context that is set.
template <class Numbers>
[[gnu::always_inline]] inline Machine::Outcome Machine::carry_out(const Context& at, std::uint16_t code, bool begins,
                                                                  RuleId guard) {
    double stack[stack_depth];
    const Instruction* next = program_.code + code;
    while (true) {
        double* top = stack;
        next = values<Numbers>(at, next, program_.constants, top, wheels_, faults_);
        const Instruction& instruction = *next++;
        if (instruction.op == Op::end) [[likely]] {
            return Outcome::acted;
        }
        switch (instruction.op) {
        case Op::once: next = begins ? next : program_.code + instruction.b; break;
        case Op::note: out_->add(EventKind::note, instruction.b); break;
        case Op::light: out_->add(EventKind::light, instruction.b); break;
        case Op::sound: out_->add(EventKind::sound, instruction.b); break;
        case Op::tell: out_->add(EventKind::tell, instruction.b, top[-1]); break;
        case Op::set: storage_.cells[instruction.b] = top[-1]; break;
        case Op::call:
        case Op::become:
        case Op::done:
        case Op::halt:
        case Op::hold:
        default: return leave(instruction, guard);
        }
    }
}

// NOLINTEND(clang-analyzer-core.*)

/// A rule of the innermost block, whose context is set, takes the look.
template <class Numbers>
[[gnu::always_inline]] inline Machine::Outcome Machine::act(const Context& at, Frame& frame, const Rule& rule) {
    const RuleId id(&rule - program_.rules);
    const bool begins = frame.acting != id || frame.acted_look < free_look_;
    frame.acting = id;
    frame.acted_look = look_;
    out_->rule = id;
    out_->block = frame.block;
    if (rule.fresh_cells != 0) {
        spend(program_.blocks[frame.block], rule, at.cells);
    }
    return carry_out<Numbers>(at, rule.acts, begins, no_rule);
}

} // namespace vast_turn::runtime
