/// Errands: items in order, loops and choices.

#include "runtime/evaluate.hpp"

namespace vast_turn::runtime {

namespace {

void keep_marks(double* cells, const Marks& marks) {
    cells[0] = marks.ms;
    cells[1] = marks.way_mm;
    for (int i = 0; i < 4; ++i) {
        cells[2 + i] = marks.heading_deg[i];
    }
    cells[6] = marks.left_deg;
    cells[7] = marks.right_deg;
    cells[8] = marks.looks;
}

Marks kept_marks(const double* cells) {
    Marks marks;
    marks.ms = cells[0];
    marks.way_mm = cells[1];
    for (int i = 0; i < 4; ++i) {
        marks.heading_deg[i] = cells[2 + i];
    }
    marks.left_deg = cells[6];
    marks.right_deg = cells[7];
    marks.looks = cells[8];
    return marks;
}

} // namespace

/// What an item under `over` has done so far; the context is the block's or the item's.
double Machine::measure(const Frame& frame, const Item& item) const {
    const Marks& began = frame.item_began;
    switch (item.limit) {
    case LimitKind::way: return magnitude(kept(now_.way_mm - began.way_mm));
    case LimitKind::angle: {
        const auto source = static_cast<std::size_t>(item.source);
        return magnitude(kept(now_.heading_deg[source] - began.heading_deg[source]));
    }
    case LimitKind::wheel: {
        const bool left = value_of(program_.code + item.other_code, program_.constants) > 0.0;
        return magnitude(kept(left ? now_.left_deg - began.left_deg : now_.right_deg - began.right_deg));
    }
    case LimitKind::time: return kept(now_.ms - began.ms);
    case LimitKind::looks: return kept(now_.looks - began.looks);
    default: return 0.0;
    }
}

bool Machine::limit_holds(int at, const Item& item) {
    use_item(at);
    const Frame& frame = storage_.frames[at];
    bool over = false;
    if (item.limit == LimitKind::till) {
        over = is_true_at(item.limit_code);
    } else if (item.limit != LimitKind::none) {
        over = measure(frame, item) >= frame.item_limit;
    }
    if (item.limit != LimitKind::none) {
        const auto number = static_cast<std::uint16_t>(&item - program_.items);
        if (follower_ != nullptr && follower_->limited != nullptr) {
            over = follower_->limited(*follower_, *this, number, over);
        }
        tell(Stage::limit, number, over);
    }
    return over;
}

/// What is fresh in a limit must first be false.
void Machine::arm(const Item& item, double* cells) {
    for (std::uint16_t i = 0; i < item.freshes; ++i) {
        const Fresh& fresh = program_.freshes[item.first_fresh + i];
        cells[fresh.cell] = storage_.watches[fresh.watch].holds ? 0.0 : 1.0;
    }
}

void Machine::begin_item(Frame& frame, const Item& item) {
    frame.item_began = now_;
    frame.item_begun = true;
    double* cells = storage_.cells + frame.cells;
    if (item.limit == LimitKind::till) {
        arm(item, cells);
    } else if (item.limit != LimitKind::none) {
        use_item(depth_ - 1);
        frame.item_limit = evaluate(item.limit_code);
        if (item.scale_cell != no_code) {
            frame.item_limit = kept_settled(frame.item_limit * cells[item.scale_cell], faults_);
        }
    }
}

/// Notes that an item acts in this look.
void Machine::acts_as(std::uint16_t number) {
    out_->rule = RuleId(program_.rule_count + number);
    out_->block = block();
    tell(Stage::item, number, true);
}

Machine::Outcome Machine::move_item(Frame& frame, const Item& item) {
    if (!frame.item_begun) {
        begin_item(frame, item);
    }
    if (limit_holds(depth_ - 1, item)) {
        ++frame.item;
        frame.item_begun = false;
        return Outcome::moved_on;
    }
    acts_as(static_cast<std::uint16_t>(&item - program_.items));
    use_block(depth_ - 1);
    run(item.code, true, no_rule);
    return Outcome::acted;
}

Machine::Outcome Machine::call_item(Frame& frame, const Item& item) {
    begin_item(frame, item);
    if (limit_holds(depth_ - 1, item)) {
        ++frame.item;
        frame.item_begun = false;
        return Outcome::moved_on;
    }
    if (!transfer()) {
        frame.item_begun = false;
        return Outcome::acted;
    }
    acts_as(static_cast<std::uint16_t>(&item - program_.items));
    use_block(depth_ - 1);
    return enter(item.target, no_rule);
}

void Machine::begin_loop(Frame& frame, const Item& item) {
    begin_item(frame, Item{});
    use_block(depth_ - 1);
    double* loop = storage_.cells + frame.cells + item.cell;
    loop[loop_rounds] = 0.0;
    loop[loop_count] = item.code == no_code ? kept(largest_number) : evaluate(item.code);
    loop[loop_factor] = item.other_code == no_code ? 1.0 : evaluate(item.other_code);
    loop[loop_scale] = item.scale_cell == no_code ? 1.0 : storage_.cells[frame.cells + item.scale_cell];
    loop[loop_look] = 0.0;
    if (item.keeps_marks) {
        keep_marks(loop + loop_marks, now_);
    }
    arm(item, storage_.cells + frame.cells);
    frame.item_begun = false;
}

/// Begins the next round, waits for the next look when the last one took none, or ends the loop.
Machine::Outcome Machine::round(Frame& frame, const Item& item) {
    double* loop = storage_.cells + frame.cells + item.cell;
    use_block(depth_ - 1);
    const Marks began = item.keeps_marks ? kept_marks(loop + loop_marks) : Marks{};
    context_.began = &began;
    bool over = loop[loop_rounds] >= loop[loop_count];
    if (!over && item.limit == LimitKind::till) {
        over = is_true_at(item.limit_code);
        tell(Stage::limit, static_cast<std::uint16_t>(&item - program_.items), over);
    }
    use_block(depth_ - 1);
    if (over) {
        frame.item = item.target;
        return Outcome::moved_on;
    }
    if (loop[loop_look] >= look_) {
        acts_as(static_cast<std::uint16_t>(&item - program_.items));
        return Outcome::acted;
    }
    if (loop[loop_rounds] > 0.5) {
        loop[loop_scale] = kept_settled(loop[loop_scale] * loop[loop_factor], faults_);
    }
    loop[loop_look] = static_cast<double>(look_);
    ++frame.item;
    return Outcome::moved_on;
}

Machine::Outcome Machine::item(Frame& frame, const Item& item) {
    double* cells = storage_.cells + frame.cells;
    switch (item.kind) {
    case ItemKind::move: return move_item(frame, item);
    case ItemKind::call: return call_item(frame, item);
    case ItemKind::act: {
        use_block(depth_ - 1);
        acts_as(static_cast<std::uint16_t>(&item - program_.items));
        const Outcome outcome = run(item.code, true, no_rule);
        frame.item += item.target; // one, unless the item leaves
        return outcome == Outcome::acted && item.target != 0 ? Outcome::moved_on : outcome;
    }
    case ItemKind::loop: begin_loop(frame, item); break;
    case ItemKind::round: return round(frame, item);
    case ItemKind::again:
        cells[item.cell + loop_rounds] += 1.0;
        frame.item = item.target;
        return Outcome::moved_on;
    case ItemKind::branch: {
        use_block(depth_ - 1);
        const bool holds = is_true_at(item.code);
        tell(Stage::branch, static_cast<std::uint16_t>(&item - program_.items), holds);
        if (!holds) {
            frame.item = item.target;
            return Outcome::moved_on;
        }
        for (std::uint16_t i = 0; i < item.freshes; ++i) {
            spend(program_.freshes[item.first_fresh + i], cells);
        }
        break;
    }
    case ItemKind::jump: frame.item = item.target; return Outcome::moved_on;
    }
    ++frame.item;
    return Outcome::moved_on;
}

/// The errand in hand goes on until something acts, another block is in hand, or it ends.
Machine::Outcome Machine::errand() {
    const int at = depth_ - 1;
    while (true) {
        Frame& frame = storage_.frames[at];
        const Block& block = program_.blocks[frame.block];
        if (frame.item >= block.items) {
            return transfer() ? end_block(at) : Outcome::acted;
        }
        const std::uint16_t number = frame.block;
        const Outcome outcome = item(frame, program_.items[block.first_item + frame.item]);
        const bool still_here = depth_ == at + 1 && frame.block == number;
        if (outcome != Outcome::moved_on || !still_here) {
            return outcome;
        }
    }
}

} // namespace vast_turn::runtime
