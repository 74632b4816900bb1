/// A look, as a rule by a habit alone, and how a rule leaves it.

#include "runtime/habit.hpp"

namespace vast_turn::runtime {

Machine::Outcome Machine::run(std::uint16_t code, bool begins, RuleId guard) {
    return program_.numbers == NumberKind::binary64 ? carry_out<Binary64>(context_, code, begins, guard)
                                                    : carry_out<Binary32>(context_, code, begins, guard);
}

bool Machine::plan_says(std::uint16_t condition) {
    use_plan();
    return is_true_at(condition);
}

Machine::Outcome Machine::unanswered(Frame& frame) {
    frame.acting = no_rule;
    out_->block = frame.block;
    out_->add(EventKind::unanswered, context_.look->line_bits);
    return Outcome::acted;
}

Machine::Outcome Machine::habit() {
    const int at = depth_ - 1;
    use_block(at);
    Frame& frame = storage_.frames[at];
    const Block& block = program_.blocks[frame.block];
    const Rule* rule = nullptr;
    if (follower_ == nullptr) {
        rule = answering_rule(block, context_.look->line_bits);
    } else {
        for (std::uint16_t i = 0; i < block.rules && rule == nullptr; ++i) {
            const Rule& asked = program_.rules[block.first_rule + i];
            const bool acts = holds(asked);
            tell(Stage::rule, static_cast<std::uint16_t>(block.first_rule + i), acts);
            rule = acts ? &asked : nullptr;
        }
        if (follower_->chosen != nullptr) {
            const RuleId own = rule == nullptr ? no_rule : RuleId(rule - program_.rules);
            const RuleId chosen = follower_->chosen(*follower_, *this, own);
            rule = chosen == no_rule ? nullptr : &program_.rules[chosen.index()];
        }
    }
    if (rule == nullptr) {
        return unanswered(frame);
    }
    return program_.numbers == NumberKind::binary64 ? act<Binary64>(context_, frame, *rule)
                                                    : act<Binary32>(context_, frame, *rule);
}

/// The habit that can take the next look without anything else being asked, if there is one.
const Block* Machine::plain_block() const {
    const bool more = program_.counts || program_.guards_anywhere || program_.freshes_anywhere ||
                      program_.arguments_anywhere || program_.own_weights || program_.numbers != NumberKind::binary64;
    if (more || depth_ != 1 || follower_ != nullptr || halted_) {
        return nullptr;
    }
    const Block& block = program_.blocks[storage_.frames[0].block];
    return block.is_errand ? nullptr : &block;
}

/// A rule of a plain look has ended the block or the plan, or handed over.
void Machine::leave_plain_look(Outcome outcome) {
    halted_ = outcome == Outcome::over || decide() == Outcome::over;
    plain_ = plain_block();
    finish();
}

void Machine::look(const Look& in, Answer& out) {
    out_ = &out;
    out.events = 0;
    out.events_lost = 0;
    out.rule = no_rule;
    if (plain_ == nullptr) [[unlikely]] {
        return full_look(in);
    }
    // The usual look, at which nothing but the watches and the rules of one habit is asked.
    free_look_ = look_number_;
    look_number_ = ++look_;
    transfers_ = 0;
    context_.look = &in;
    update_watches(in, false);
    Frame& frame = storage_.frames[0];
    if (context_.frame != 0) [[unlikely]] { // nothing is counted from marks here, so it is what the look before left
        use_block(0);
    }
    const Rule* const rule = answering_rule(*plain_, in.line_bits);
    const Outcome outcome = rule == nullptr ? unanswered(frame) : act<Binary64>(context_, frame, *rule);
    if (outcome != Outcome::acted) [[unlikely]] {
        return leave_plain_look(outcome);
    }
    out.left_pct = wheels_.left;
    out.right_pct = wheels_.right;
    out.halted = false;
}

/// The last act: goes elsewhere, or holds.
Machine::Outcome Machine::leave(const Instruction& instruction, RuleId guard) {
    if (instruction.op == Op::halt) {
        return Outcome::over;
    }
    if (instruction.op == Op::hold) {
        was_held_ = was_ever_held_ = true;
        return Outcome::acted;
    }
    const int at = context_.frame;
    if (!transfer()) {
        if (at >= 0) { // so that the next look tries again
            storage_.frames[at].acting = no_rule;
            storage_.frames[at].item_begun = false;
        }
        return Outcome::acted;
    }
    switch (instruction.op) {
    case Op::call: return enter(instruction.b, guard);
    case Op::become: return become(instruction.b, at < 0 ? 0 : at);
    default: return at < 0 ? Outcome::over : end_block(at);
    }
}

} // namespace vast_turn::runtime
