/// Blocks in hand: how they begin, hand over, and end.

#include "runtime/evaluate.hpp"

namespace vast_turn::runtime {

/// Counts a transfer; false when there have been too many in this look.
bool Machine::transfer() {
    if (transfers_ == most_transfers) {
        out_->add(EventKind::cut_short, block());
        return false;
    }
    ++transfers_;
    return true;
}

/// Evaluates arguments of a call, if it has such, in the context that is set.
void Machine::give_arguments(std::uint16_t code, double* into) {
    if (code == no_code) {
        return;
    }
    double stack[stack_depth];
    const Instruction* next = program_.code + code;
    while (true) {
        double* top = stack;
        next = values_of_kind(context_, next, program_.constants, top, wheels_, faults_);
        if (next->op != Op::give) {
            return;
        }
        into[next->b] = top[-1];
        ++next;
    }
}

/// The arguments of all blocks in hand, by the values of their callers, the outermost first.
void Machine::refresh_arguments(bool with_pid) {
    for (int i = 1; i < depth_; ++i) {
        const Frame& frame = storage_.frames[i];
        if (frame.call == no_code) {
            continue;
        }
        const Call& call = program_.calls[frame.call];
        const std::uint16_t code = with_pid ? call.pid_args : call.args;
        if (code != no_code) {
            if (frame.caller < 0) {
                use_plan();
            } else {
                use_block(frame.caller);
            }
            give_arguments(code, storage_.cells + frame.cells);
        }
    }
}

void Machine::begin(int at, std::uint16_t number, const double* arguments) {
    Frame& frame = storage_.frames[at];
    const Block& block = program_.blocks[number];
    frame.block = number;
    frame.block_began = frame.item_began = now_;
    frame.acting = no_rule;
    frame.item = 0;
    frame.item_begun = false;
    double* cells = storage_.cells + frame.cells;
    for (std::uint16_t i = 0; i < block.cells; ++i) {
        cells[i] = i < most_arguments && arguments != nullptr ? arguments[i] : 0.0;
    }
    for (std::uint16_t i = 0; i < block.freshes; ++i) {
        const Fresh& fresh = program_.freshes[block.first_fresh + i];
        const WatchState& watch = storage_.watches[fresh.watch];
        cells[fresh.cell] = !fresh.in_limit && watch.holds && !watch.held && !watch.spent ? 2.0 : 0.0;
    }
    tell(Stage::begun, number, true);
}

/// `do`: the context is the caller's.
Machine::Outcome Machine::enter(std::uint16_t number, RuleId guard) {
    const Call& call = program_.calls[number];
    double arguments[most_arguments] = {};
    give_arguments(call.args, arguments);
    give_arguments(call.pid_args, arguments);
    Frame& frame = storage_.frames[depth_];
    const bool first = depth_ == 0;
    const Frame* below = first ? nullptr : &storage_.frames[depth_ - 1];
    frame.cells = first ? static_cast<std::uint16_t>(program_.vars + program_.plan.cells)
                        : static_cast<std::uint16_t>(below->cells + program_.blocks[below->block].cells);
    frame.call = number;
    frame.caller = static_cast<std::int16_t>(context_.frame);
    frame.guard = guard;
    ++depth_;
    begin(depth_ - 1, call.block, arguments);
    return Outcome::moved_on;
}

/// The block in this frame goes over to another for good; what it waited for is dropped.
Machine::Outcome Machine::become(std::uint16_t number, int at) {
    const Call& call = program_.calls[number];
    double arguments[most_arguments] = {};
    give_arguments(call.args, arguments);
    give_arguments(call.pid_args, arguments);
    depth_ = static_cast<std::uint16_t>(at + 1);
    storage_.frames[at].call = no_code;
    begin(at, call.block, arguments);
    return Outcome::moved_on;
}

/// Ends the block in this frame, with all that it waits for.
Machine::Outcome Machine::end_block(int at) {
    const bool from_guard = storage_.frames[at].guard != no_rule;
    tell(Stage::ended, storage_.frames[at].block, true);
    depth_ = static_cast<std::uint16_t>(at);
    if (at == 0) {
        return Outcome::over;
    }
    come_back(from_guard);
    return Outcome::moved_on;
}

/// The innermost block goes on: a habit from the top of its rules, an errand with its next item. After a
/// guard's errand nobody has called, so an errand goes on with the item in hand.
void Machine::come_back(bool from_guard) {
    Frame& frame = storage_.frames[depth_ - 1];
    const Block& block = program_.blocks[frame.block];
    double* cells = storage_.cells + frame.cells;
    for (std::uint16_t i = 0; i < block.freshes; ++i) {
        const Fresh& fresh = program_.freshes[block.first_fresh + i];
        const WatchState& watch = storage_.watches[fresh.watch];
        const bool news = !fresh.in_limit && fresh.guard == no_code && watch.holds && !watch.held;
        if (news && cells[fresh.cell] > -0.5) { // unless it has been spent in this look
            cells[fresh.cell] = 2.0;
        }
    }
    frame.acting = no_rule;
    if (block.is_errand && !from_guard) {
        ++frame.item;
        frame.item_begun = false;
    }
}

} // namespace vast_turn::runtime
