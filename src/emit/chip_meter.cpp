#include <algorithm>
#include <numeric>
#include <utility>

#include "emit/c_work.hpp"
#include "emit/chip_prices.hpp"
#include "emit/shape.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/emit/chip_cost.hpp"

namespace vast_turn {

using emit::Work;
using emit::WorkKind;
using emit::WorkPart;

namespace {

constexpr const char* metered = "plan"; // what names begin with in the source that is taken apart

double paid(const Work& work, const emit::Prices& prices) {
    return std::inner_product(work.counts.begin(), work.counts.end(), prices.begin(), 0.0);
}

} // namespace

/// Work by what a look passes through.
struct ChipMeter::Parts : runtime::Follower {
    Mind mind;
    CSource source;
    emit::SourceWork taken_apart;
    const emit::ChipPrices& prices;
    ChipKind chip;
    Work each_look;              ///< done in every look
    Work on_line;                ///< while a sensor sees line
    Work held;                   ///< behind a look that a guard held, which takes time and way out
    Work ever_held;              ///< in every look behind one
    Work waits;                  ///< for each block that waits for another
    std::vector<WorkPart> rules; ///< guards too, by number
    std::vector<WorkPart> items;
    // Of the looks so far.
    Work now;
    Work sum;
    double most = 0.0;
    std::size_t looks = 0;
    bool has_held = false;
    RuleId last; ///< that acted in the look before

    Parts(const Plan& plan, CSource made, ChipKind on)
        : mind(plan, runtime::NumberKind::binary32), source(std::move(made)), taken_apart(source.source, metered),
          prices(emit::prices_of(on)), chip(on), rules(plan.tables().rules.size()), items(plan.tables().items.size()) {
        seen = [](runtime::Follower& self, const runtime::Machine& machine, runtime::Stage stage, std::uint16_t number,
                  bool holds) { static_cast<Parts&>(self).passed(machine, stage, number, holds); };
        take_rules(plan);
        take_looks(plan);
        mind.follow(this);
    }

    void take_rules(const Plan& plan) {
        const emit::CPieces pieces(metered, runtime::NumberKind::binary32);
        const emit::Shape shape(plan, pieces);
        const ProgramTables& tables = plan.tables();
        each_look[WorkKind::mark] = static_cast<double>(shape.marks.size());
        const auto guards_of = [&](const runtime::Block& owner, const std::string& function) {
            const std::vector<WorkPart> parts = taken_apart.parts(function);
            for (std::size_t i = 0; i < std::min<std::size_t>(owner.guards, parts.size()); ++i) {
                const std::uint16_t rule = tables.guards[owner.first_guard + i].rule;
                rules[rule] = parts[i];
                rules[rule].done.add(taken_apart.work("acts_" + std::to_string(rule)));
            }
        };
        guards_of(tables.plan, "guards_of_plan");
        for (std::size_t b = 0; b < tables.blocks.size(); ++b) {
            const runtime::Block& block = tables.blocks[b];
            guards_of(block, "guards_of_" + shape.block_function(b));
            const std::vector<WorkPart> parts = taken_apart.parts(shape.block_function(b));
            for (std::size_t i = 0; i < parts.size(); ++i) {
                (block.is_errand ? items[block.first_item + i] : rules[block.first_rule + i]) = parts[i];
            }
        }
    }

    void take_looks(const Plan& plan) {
        const std::vector<std::string_view> seldom = {"if (s->look == 1)", "if (!r->begun)", "if (s->look != 1 &&",
                                                      "if (s->was_ever_held)"};
        std::vector<std::string_view> in_no_line = seldom;
        in_no_line.insert(in_no_line.end(), {"if (look.line != 0)", "if (in->line != 0)"});
        each_look[WorkKind::look] = 1.0;
        each_look[WorkKind::several] = taken_apart.has("in_hand") ? 1.0 : 0.0;
        each_look[WorkKind::sensor] = plan.sensors();
        each_look[WorkKind::side] = taken_apart.has("side_of") ? plan.sensors() : 0.0;
        for (const char* function : {"decide_senses", "begin_look"}) {
            const Work least = taken_apart.work(function, in_no_line);
            each_look.add(least);
            on_line.add(taken_apart.work(function, seldom)).add(least, -1.0);
        }
        const auto besides = [&](const char* condition) { // what is done where this holds
            Work work = taken_apart.work("take_stand");
            return work.add(taken_apart.work("take_stand", {condition}), -1.0);
        };
        held = besides("if (s->look != 1 &&");
        ever_held = besides("if (s->was_ever_held)");
        for (const char* function : {"look", "take_stand", "watch_conditions", "guards_take_the_look"}) {
            each_look.add(taken_apart.work(function, seldom));
        }
        waits.add(taken_apart.work("cut_off_at_limits"));
        waits[WorkKind::arguments] += taken_apart.has("refresh_arguments") ? 1.0 : 0.0;
    }

    void passed(const runtime::Machine& machine, runtime::Stage stage, std::uint16_t number, bool holds) {
        switch (stage) {
        case runtime::Stage::guard:
        case runtime::Stage::rule:
            now.add(rules[number].asked);
            if (holds) {
                now.add(rules[number].done);
                if (last != RuleId(number)) {
                    now.add(rules[number].begun);
                }
            }
            break;
        case runtime::Stage::limit:
        case runtime::Stage::branch: now.add(items[number].asked); break;
        case runtime::Stage::item:
            if (machine.program().items[number].limit == runtime::LimitKind::none) { // others have been asked
                now.add(items[number].asked);
            }
            break;
        case runtime::Stage::begun:
            now[WorkKind::transfer] += 1.0;
            now[WorkKind::store] += machine.program().blocks[number].cells;
            break;
        case runtime::Stage::ended: now[WorkKind::transfer] += 1.0; break;
        }
    }

    void look(const Look& in, Answer& out) {
        now = each_look;
        if (in.line_bits != 0) {
            now.add(on_line);
        }
        const runtime::Machine& machine = mind.machine();
        const runtime::Program& program = machine.program();
        now[WorkKind::news] += program.plan.freshes;
        for (int f = 0; f < machine.depth(); ++f) {
            now[WorkKind::news] += program.blocks[machine.frame(f).block].freshes;
            if (f > 0) {
                now.add(waits);
            }
        }
        has_held = has_held || machine.held();
        if (has_held) {
            now.add(ever_held);
        }
        if (machine.held()) {
            now.add(held);
        }
        mind(in, out);
        last = out.rule;
        sum.add(now);
        most = std::max(most, paid(now, prices.time));
        ++looks;
    }
};

namespace {

/// The source as it is compiled for a robot that only tells its looks.
std::string without_talk(const std::string& source) {
    std::string out;
    bool talks = false;
    for (std::size_t from = 0; from < source.size();) {
        const std::size_t end = std::min(source.find('\n', from), source.size() - 1) + 1;
        const std::string_view line = std::string_view(source).substr(from, end - from);
        if (line.starts_with("#if ") && line.find("_TALKS") != std::string_view::npos) {
            talks = true;
        } else if (line.starts_with("#else") || line.starts_with("#endif")) {
            talks = false;
        } else if (!talks) {
            out += line;
        }
        from = end;
    }
    return out;
}

} // namespace

ChipMeter::ChipMeter(const Plan& plan, const Robot& robot, const Calibration& calibration, ChipKind chip) {
    if (chip == ChipKind::bits_64) {
        throw InputError("", "what a look costs is known of 8-bit and 32-bit chips only", "name one of those");
    }
    CSource made = c_source(
        plan, {.numbers = runtime::NumberKind::binary32, .name = metered, .robot = robot, .calibration = calibration});
    made.source = without_talk(made.source);
    parts_ = std::make_unique<Parts>(plan, std::move(made), chip);
}

ChipMeter::ChipMeter(ChipMeter&&) noexcept = default;
ChipMeter& ChipMeter::operator=(ChipMeter&&) noexcept = default;
ChipMeter::~ChipMeter() = default;

void ChipMeter::operator()(const Look& in, Answer& out) { parts_->look(in, out); }

LookCost ChipMeter::cost() const {
    LookCost cost;
    cost.looks = parts_->looks;
    cost.most = parts_->most;
    cost.mean = paid(parts_->sum, parts_->prices.time) / static_cast<double>(std::max<std::size_t>(cost.looks, 1));
    return cost;
}

ProgramCost ChipMeter::program() const {
    const Work all = parts_->taken_apart.reached_from({"decide_senses", "ready"});
    Work there;
    std::transform(all.counts.begin(), all.counts.end(), there.counts.begin(),
                   [](double count) { return count > 0.0 ? 1.0 : 0.0; });
    return {paid(all, parts_->prices.flash) + paid(there, parts_->prices.flash_once),
            parts_->source.state_bytes[static_cast<std::size_t>(parts_->chip)]};
}

std::vector<double> ChipMeter::work() const {
    Work mean;
    mean.add(parts_->sum, 1.0 / static_cast<double>(std::max<std::size_t>(parts_->looks, 1)));
    return {mean.counts.begin(), mean.counts.end()};
}

std::vector<double> ChipMeter::source_work() const {
    const Work all = parts_->taken_apart.reached_from({"decide_senses", "ready"});
    return {all.counts.begin(), all.counts.end()};
}

} // namespace vast_turn
