/// What comes before the block in hand: guards, and limits of what waits beneath it.

#include "runtime/habit.hpp"

namespace vast_turn::runtime {

/// Whether a guard sleeps: the block that it does is in hand, or what has become of it.
bool Machine::asleep(const Guard& guard) const {
    if (guard.callee == no_block) {
        return false;
    }
    for (int i = 0; i < depth_; ++i) {
        if (storage_.frames[i].block == guard.callee || storage_.frames[i].guard == RuleId(guard.rule)) {
            return true;
        }
    }
    return false;
}

/// Asks the guards of one block (or of the plan); true when one takes the look.
bool Machine::guards_of(const Block& block, int frame) {
    for (std::uint16_t i = 0; i < block.guards; ++i) {
        const Guard& guard = program_.guards[block.first_guard + i];
        if (frame < 0) {
            use_plan();
        } else {
            use_block(frame);
        }
        const Rule& rule = program_.rules[guard.rule];
        if (asleep(guard)) {
            continue;
        }
        const bool acts = holds(rule);
        tell(Stage::guard, guard.rule, acts);
        if (!acts) {
            continue;
        }
        double* cells = context_.cells;
        spend(block, rule, cells);
        double& stamp = cells[guard.stamp_cell];
        const bool begins = stamp < 1.0 || stamp < free_look_;
        stamp = guard.callee == no_block ? static_cast<double>(look_) : 0.0; // each call is a new act
        wheels_.moved = was_held_ = false;
        const std::uint16_t in_hand = frame < 0 ? this->block() : storage_.frames[frame].block;
        if (!guard.holds) { // a hold freezes pids
            refresh_arguments(true);
            frame < 0 ? use_plan() : use_block(frame);
        }
        const Outcome outcome = run(rule.acts, begins, RuleId(guard.rule));
        halted_ = outcome == Outcome::over;
        const bool takes = halted_ || wheels_.moved || was_held_ || outcome == Outcome::moved_on;
        if (takes) {
            out_->rule = RuleId(guard.rule);
            out_->block = in_hand;
            if (outcome == Outcome::moved_on) {
                halted_ = decide() == Outcome::over;
            }
            return true;
        }
    }
    return false;
}

bool Machine::guards_take_the_look() {
    if (guards_of(program_.plan, -1)) {
        return true;
    }
    const int in_hand = look_ == 1 ? 0 : depth_; // the first block begins in the first look
    for (int f = 0; f < in_hand; ++f) {
        if (guards_of(program_.blocks[storage_.frames[f].block], f)) {
            return true;
        }
    }
    return false;
}

/// Ends what waits under a limit that holds, the outermost first.
void Machine::cut_off_at_limits() {
    for (int f = 0; f + 1 < depth_; ++f) {
        const Frame& frame = storage_.frames[f];
        const Block& block = program_.blocks[frame.block];
        if (!block.is_errand || storage_.frames[f + 1].guard != no_rule) {
            continue;
        }
        const Item& item = program_.items[block.first_item + frame.item];
        if (item.kind == ItemKind::call && item.limit != LimitKind::none && limit_holds(f, item)) {
            ++transfers_;
            end_block(f + 1);
            return;
        }
    }
}

} // namespace vast_turn::runtime
