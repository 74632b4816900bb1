/// One look: watches, guards, limits, then the innermost block.

#include "plan/runtime/evaluate.hpp"

#include "vast_turn/sense/line_position.hpp"

namespace vast_turn::runtime {

namespace {

constexpr double power_limit = 100.0;

Marks marks_of(const Look& in, std::uint32_t look) {
    Marks marks;
    marks.ms = in.clock_ms;
    marks.way_mm = in.way_mm;
    marks.heading_deg[0] = in.heading_deg;
    marks.heading_deg[1] = in.heading_by_wheels_deg;
    marks.heading_deg[2] = in.heading_by_gyro_deg;
    marks.heading_deg[3] = in.heading_by_compass_deg;
    marks.left_deg = in.left_deg;
    marks.right_deg = in.right_deg;
    marks.looks = look - 1.0;
    return marks;
}

/// a + sign * b
Marks combined(const Marks& a, const Marks& b, double sign) {
    Marks sum = a;
    sum.ms += sign * b.ms;
    sum.way_mm += sign * b.way_mm;
    for (int i = 0; i < 4; ++i) {
        sum.heading_deg[i] += sign * b.heading_deg[i];
    }
    sum.left_deg += sign * b.left_deg;
    sum.right_deg += sign * b.right_deg;
    sum.looks += sign * b.looks;
    return sum;
}

} // namespace

Machine::Machine(const Program& program, const Storage& storage) : program_(program), storage_(storage) { reset(); }

void Machine::reset() {
    context_ = Context{};
    raw_ = held_ = now_ = plan_began_ = Marks{};
    left_ = right_ = weighted_ = 0.0;
    look_ = free_look_ = faults_ = 0;
    depth_ = 0;
    transfers_ = 0;
    was_held_ = was_ever_held_ = moved_ = halted_ = false;
    for (std::uint16_t i = 0; i < program_.watch_count; ++i) {
        storage_.watches[i] = WatchState{};
    }
    for (std::uint16_t i = 0; i < program_.cell_count; ++i) {
        storage_.cells[i] = i < program_.vars ? program_.first_vars[i] : 0.0;
    }
}

void Machine::tell(Stage stage, std::uint16_t number, bool holds) const {
    if (follower_ != nullptr) {
        follower_->seen(*follower_, *this, stage, number, holds);
    }
}

void Machine::update_watches() {
    use_plan();
    const Look& in = *context_.look;
    for (std::uint16_t i = 0; i < program_.watch_count; ++i) {
        const Watch& watch = program_.watches[i];
        WatchState& state = storage_.watches[i];
        const bool before = state.holds;
        const bool misses = (in.line_bits & watch.mask) != watch.bits;
        if (misses && state.looks == 0) { // nothing lasts and nothing begins: the usual case
            state.held = false;
            continue;
        }
        if (misses || (watch.condition != no_code && !is_true_at(watch.condition))) {
            state = WatchState{};
        } else {
            if (state.looks == 0) {
                state.since_ms = in.clock_ms;
            }
            state.looks += state.looks < 0xFFFFFFFFU ? 1U : 0U;
            switch (watch.kind) {
            case WatchKind::looks: state.holds = state.looks >= watch.limit; break;
            case WatchKind::time: state.holds = in.clock_ms - state.since_ms >= watch.limit; break;
            case WatchKind::now: state.holds = true; break;
            }
        }
        state.held = look_ == 1 ? state.holds : before;
    }
}

/// Memory of a `fresh`: of a rule 0 nothing, 2 news, -1 acted upon; in a limit 0 not yet false since the item began,
/// 1 false, 2 news.
void Machine::update_fresh(const Fresh& fresh, double* cells, bool hears, bool awake) {
    const WatchState& watch = storage_.watches[fresh.watch];
    double& cell = cells[fresh.cell];
    if (!watch.holds) {
        cell = fresh.in_limit ? 1.0 : 0.0;
    } else if (fresh.in_limit) {
        cell = cell > 0.5 ? 2.0 : 0.0;
    } else if (!watch.held && (fresh.guard == no_code ? hears : awake)) {
        cell = 2.0;
    }
}

void Machine::update_freshes() {
    const auto awake = [this](const Fresh& fresh) {
        return fresh.guard == no_code || !asleep(program_.guards[fresh.guard]);
    };
    for (std::uint16_t i = 0; i < program_.plan.freshes; ++i) {
        const Fresh& fresh = program_.freshes[program_.plan.first_fresh + i];
        update_fresh(fresh, storage_.cells, false, awake(fresh));
    }
    for (int f = 0; f < depth_; ++f) {
        const Frame& frame = storage_.frames[f];
        const Block& block = program_.blocks[frame.block];
        for (std::uint16_t i = 0; i < block.freshes; ++i) {
            const Fresh& fresh = program_.freshes[block.first_fresh + i];
            update_fresh(fresh, storage_.cells + frame.cells, f + 1 == depth_, awake(fresh));
        }
    }
}

bool Machine::holds(const Rule& rule) {
    return (context_.look->line_bits & rule.mask) == rule.bits &&
           (rule.watch == no_code || storage_.watches[rule.watch].holds) &&
           (rule.condition == no_code || is_true_at(rule.condition));
}

void Machine::move(Op motion, const double* top) {
    moved_ = true;
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
    default: return; // keep
    }
    left_ = clamped(left_, -power_limit, power_limit);
    right_ = clamped(right_, -power_limit, power_limit);
}

// NOLINTBEGIN(clang-analyzer-core.*): as in evaluate.cpp

/// Carries out the acts of a rule, guard or item in the context that is set.
Machine::Outcome Machine::run(std::uint16_t code, bool begins, std::uint16_t guard) {
    double stack[stack_depth];
    const Instruction* next = program_.code + code;
    while (true) {
        double* top = stack;
        next = values(next, program_.constants, top, faults_);
        const Instruction& instruction = *next++;
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
        case Op::hold: return leave(instruction, guard);
        case Op::end: return Outcome::acted;
        default: move(instruction.op, top); break;
        }
    }
}

// NOLINTEND(clang-analyzer-core.*)

/// The last act: goes elsewhere, or holds.
Machine::Outcome Machine::leave(const Instruction& instruction, std::uint16_t guard) {
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

/// Whether a guard sleeps: the block that it does is in hand, or what has become of it.
bool Machine::asleep(const Guard& guard) const {
    if (guard.callee == no_block) {
        return false;
    }
    for (int i = 0; i < depth_; ++i) {
        if (storage_.frames[i].block == guard.callee || storage_.frames[i].guard == guard.rule) {
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
        for (std::uint16_t k = 0; k < rule.fresh_cells; ++k) {
            cells[rule.fresh_cell + k] = -1.0;
        }
        double& stamp = cells[guard.stamp_cell];
        const bool begins = stamp < 1.0 || stamp < free_look_;
        stamp = guard.callee == no_block ? static_cast<double>(look_) : 0.0; // each call is a new act
        moved_ = was_held_ = false;
        const std::uint16_t in_hand = frame < 0 ? this->block() : storage_.frames[frame].block;
        if (!guard.holds) { // a hold freezes pids
            refresh_arguments(true);
            frame < 0 ? use_plan() : use_block(frame);
        }
        const Outcome outcome = run(rule.acts, begins, guard.rule);
        halted_ = outcome == Outcome::over;
        const bool takes = halted_ || moved_ || was_held_ || outcome == Outcome::moved_on;
        if (takes) {
            out_->rule = guard.rule;
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

Machine::Outcome Machine::act(std::uint16_t number) {
    Frame& frame = storage_.frames[depth_ - 1];
    const bool begins = frame.acting != number || frame.acted_look < free_look_;
    frame.acting = number;
    frame.acted_look = look_;
    out_->rule = number;
    out_->block = frame.block;
    const Rule& rule = program_.rules[number];
    for (std::uint16_t k = 0; k < rule.fresh_cells; ++k) {
        context_.cells[rule.fresh_cell + k] = -1.0;
    }
    return run(rule.acts, begins, no_rule);
}

Machine::Outcome Machine::habit() {
    const int at = depth_ - 1;
    use_block(at);
    Frame& frame = storage_.frames[at];
    const Block& block = program_.blocks[frame.block];
    const Rule* const rules = program_.rules;
    const unsigned bits = context_.look->line_bits;
    const auto end = static_cast<std::uint16_t>(block.first_rule + block.rules);
    for (std::uint16_t number = block.first_rule; number != end; ++number) {
        const Rule& rule = rules[number];
        if ((bits & rule.mask) != rule.bits && follower_ == nullptr) {
            continue;
        }
        const bool acts = holds(rule);
        if (follower_ != nullptr) {
            tell(Stage::rule, number, acts);
        }
        if (acts) {
            return act(number);
        }
    }
    frame.acting = no_rule;
    out_->block = frame.block;
    out_->rule = no_rule;
    out_->add(EventKind::unanswered, context_.look->line_bits);
    return Outcome::acted;
}

/// Lets the innermost block act, and what comes after it, until something has acted.
Machine::Outcome Machine::decide() {
    if (program_.arguments_anywhere) {
        refresh_arguments(true);
    }
    Outcome outcome = Outcome::moved_on;
    while (outcome == Outcome::moved_on) {
        outcome = program_.blocks[block()].is_errand ? errand() : habit();
    }
    return outcome;
}

/// Brings up to date where the robot stands, and what of it counts.
void Machine::take_stand(const Marks& now) {
    if (look_ == 1) {
        plan_began_ = now;
    } else if (was_held_) {
        held_ = combined(held_, combined(now, raw_, -1.0), 1.0);
        was_held_ = false;
        raw_ = now;
        now_ = combined(now, held_, -1.0);
        return;
    }
    free_look_ = look_ - 1;
    raw_ = now;
    now_ = was_ever_held_ ? combined(now, held_, -1.0) : now;
}

void Machine::begin_look(const Look& in) {
    context_.look = &in;
    ++look_;
    transfers_ = 0;
    if (program_.counts || program_.guards_anywhere) {
        take_stand(marks_of(in, look_));
    } else {
        free_look_ = look_ - 1;
    }
    if (program_.own_weights) {
        weighted_ = weighted_position(in.sensor, program_.weights, program_.sensors, weighted_);
    }
    update_watches();
    if (look_ == 1) {
        Frame& first = storage_.frames[0];
        first = Frame{};
        first.cells = static_cast<std::uint16_t>(program_.vars + program_.plan.cells);
        depth_ = 1;
        begin(0, 0, nullptr);
    } else if (program_.arguments_anywhere) {
        refresh_arguments(false);
    }
    if (program_.freshes_anywhere) {
        update_freshes();
    }
}

void Machine::finish() const {
    const bool stands = halted_ || was_held_;
    out_->left_pct = stands ? 0.0 : left_;
    out_->right_pct = stands ? 0.0 : right_;
    out_->halted = halted_;
}

void Machine::look(const Look& in, Answer& out) {
    out_ = &out;
    out.events = 0;
    out.events_lost = 0;
    out.rule = no_rule;
    out.block = block();
    if (!halted_) {
        begin_look(in);
        if (!program_.guards_anywhere || !guards_take_the_look()) {
            cut_off_at_limits();
            halted_ = decide() == Outcome::over;
        }
    }
    finish();
}

} // namespace vast_turn::runtime
