/// One look: watches, guards, limits, then the innermost block.

#include "runtime/habit.hpp"

#include "vast_turn/runtime/line_position.hpp"

namespace vast_turn::runtime {

Marks Machine::marks_of(const Look& in) const {
    Marks marks;
    marks.ms = kept(in.clock_ms);
    marks.way_mm = kept(in.way_mm);
    marks.heading_deg[0] = kept(in.heading_deg);
    marks.heading_deg[1] = kept(in.heading_by_wheels_deg);
    marks.heading_deg[2] = kept(in.heading_by_gyro_deg);
    marks.heading_deg[3] = kept(in.heading_by_compass_deg);
    marks.left_deg = kept(in.left_deg);
    marks.right_deg = kept(in.right_deg);
    marks.looks = kept(look_ - 1.0);
    return marks;
}

/// a + sign * b
Marks Machine::combined(const Marks& a, const Marks& b, double sign) const {
    Marks sum = a;
    sum.ms = kept(a.ms + sign * b.ms);
    sum.way_mm = kept(a.way_mm + sign * b.way_mm);
    for (int i = 0; i < 4; ++i) {
        sum.heading_deg[i] = kept(a.heading_deg[i] + sign * b.heading_deg[i]);
    }
    sum.left_deg = kept(a.left_deg + sign * b.left_deg);
    sum.right_deg = kept(a.right_deg + sign * b.right_deg);
    sum.looks = kept(a.looks + sign * b.looks);
    return sum;
}

Machine::Machine(const Program& program, const Storage& storage) : program_(program), storage_(storage) { reset(); }

void Machine::reset() {
    context_ = Context{};
    raw_ = held_ = now_ = plan_began_ = Marks{};
    wheels_ = Wheels{};
    weighted_ = 0.0;
    plain_ = nullptr;
    look_ = faults_ = 0;
    look_number_ = free_look_ = 0.0;
    depth_ = 0;
    transfers_ = 0;
    was_held_ = was_ever_held_ = halted_ = false;
    for (std::uint16_t i = 0; i < program_.watch_count; ++i) {
        storage_.watches[i] = WatchState{};
    }
    for (std::uint16_t i = 0; i < program_.cell_count; ++i) {
        storage_.cells[i] = i < program_.vars ? kept(program_.first_vars[i]) : 0.0;
    }
}

void Machine::tell(Stage stage, std::uint16_t number, bool holds) const {
    if (follower_ != nullptr && follower_->seen != nullptr) {
        follower_->seen(*follower_, *this, stage, number, holds);
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

/// The news is acted upon: by this rule of this block, and for every other begin of the block in this look.
void Machine::spend(const Fresh& fresh, double* cells) {
    cells[fresh.cell] = -1.0;
    storage_.watches[fresh.watch].spent = true;
}

void Machine::spend(const Block& block, const Rule& rule, double* cells) {
    for (std::uint16_t i = 0; i < block.freshes; ++i) {
        const Fresh& fresh = program_.freshes[block.first_fresh + i];
        if (fresh.cell >= rule.fresh_cell && fresh.cell < rule.fresh_cell + rule.fresh_cells) {
            spend(fresh, cells);
        }
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
    look_number_ = ++look_;
    transfers_ = 0;
    if (program_.counts || program_.guards_anywhere) {
        take_stand(marks_of(in));
    } else {
        free_look_ = look_ - 1;
    }
    if (program_.own_weights) {
        const auto weigh =
            program_.numbers == NumberKind::binary64 ? weighted_position<Binary64> : weighted_position<Binary32>;
        weighted_ = weigh(in.sensor, program_.weights, program_.sensors, in.line_bits, weighted_);
    }
    update_watches(in, look_ == 1);
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
    out_->left_pct = stands ? 0.0 : wheels_.left;
    out_->right_pct = stands ? 0.0 : wheels_.right;
    out_->halted = halted_;
}

void Machine::full_look(const Look& in) {
    out_->block = block();
    if (!halted_) {
        begin_look(in);
        if (!program_.guards_anywhere || !guards_take_the_look()) {
            cut_off_at_limits();
            halted_ = decide() == Outcome::over;
        }
        plain_ = plain_block();
    }
    finish();
}

} // namespace vast_turn::runtime
