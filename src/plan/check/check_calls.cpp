/// What only shows over several blocks.

#include <algorithm>

#include <fmt/format.h>

#include "plan/check/call_graph.hpp"
#include "plan/check/lay_out.hpp"

namespace vast_turn::lang {

namespace {

constexpr std::size_t most_blocks = 512;

bool leaves(const std::vector<Rule>& rules) {
    return std::any_of(rules.begin(), rules.end(), [](const Rule& rule) {
        return std::any_of(rule.acts.begin(), rule.acts.end(), [](const Act& act) {
            return act.kind == ActKind::done || act.kind == ActKind::become || act.kind == ActKind::halt;
        });
    });
}

bool always(const Rule& rule) {
    return rule.is_else || (rule.condition.is<Truth>() && rule.condition.as<Truth>()->holds);
}

class CallChecker {
public:
    CallChecker(const CheckedPlan& plan, Problems& problems) : plan_(plan), problems_(problems), graph_(plan) {}

    void run() {
        for (const Entry& entry : graph_.entries()) {
            inside_itself(entry);
            never_back(entry);
        }
        if (!problems_.any_error()) {
            round_and_round();
        }
    }

private:
    const LaidBlock& block(int number) const { return plan_.blocks[static_cast<std::size_t>(number)]; }

    void inside_itself(const Entry& entry) {
        if (entry.from == no_slot || !entry.comes_back || !graph_.leads_to(entry.to, entry.from)) {
            return;
        }
        const std::string& mine = block(entry.from).name;
        const std::string& its = block(entry.to).name;
        const std::string how = entry.from == entry.to
                                    ? fmt::format("`{}` does itself here", mine)
                                    : fmt::format("`{}` does `{}`, which leads back to `{}`", mine, its, mine);
        problems_.error(entry.act->span, how + ": it would wait for itself",
                        "go over for good with become, or repeat with loop");
    }

    /// A habit goes on for ever unless something takes the errand out of it.
    void never_back(const Entry& entry) {
        const bool waits = entry.item != nullptr && entry.comes_back && entry.item->limit.kind == Limit::Kind::none;
        if (!waits || block(entry.to).is_errand) {
            return;
        }
        const LaidBlock& habit = block(entry.to);
        const bool out = leaves(habit.rules) || leaves(habit.guards) || block_halts(entry.to);
        if (!out) {
            problems_.error(entry.act->span, fmt::format("habit `{}` would never come back to this errand", habit.name),
                            fmt::format("write do {} till CONDITION, do {} over 300mm, or give it a rule with done",
                                        habit.name, habit.name));
        }
    }

    bool block_halts(int number) const {
        for (std::size_t i = 0; i < plan_.blocks.size(); ++i) {
            const LaidBlock& other = plan_.blocks[i];
            const bool halts = leaves(other.rules) || leaves(other.guards) ||
                               std::any_of(other.items.begin(), other.items.end(),
                                           [](const LaidItem& item) { return item.act.kind == ActKind::halt; });
            if (halts && static_cast<int>(i) != number && graph_.leads_to(number, static_cast<int>(i))) {
                return true;
            }
        }
        return false;
    }

    /// Whether an errand is over in the look in which it begins, whatever happens.
    bool takes_no_look(int number, int depth) const {
        const LaidBlock& errand = block(number);
        if (!errand.is_errand || depth > 16) {
            return false;
        }
        return std::all_of(errand.items.begin(), errand.items.end(), [&](const LaidItem& item) {
            const bool passes =
                item.kind == LaidItem::Kind::act && item.act.kind != ActKind::halt && item.act.kind != ActKind::become;
            const bool empty_call = item.kind == LaidItem::Kind::call &&
                                    takes_no_look(static_cast<int>(plan_.block_number(item.act.name)), depth + 1);
            return passes || empty_call;
        });
    }

    /// The act by which a block goes over to another in its first look, whatever happens; null when it need not.
    const Act* sure_way_on(int number) const {
        const LaidBlock& from = block(number);
        if (!from.is_errand) {
            const bool sure = !from.rules.empty() && always(from.rules[0]) && !from.rules[0].acts.empty() &&
                              from.rules[0].acts.back().kind == ActKind::become;
            return sure ? &from.rules[0].acts.back() : nullptr;
        }
        for (const LaidItem& item : from.items) {
            if (item.act.kind == ActKind::become) {
                return &item.act;
            }
            if (item.kind != LaidItem::Kind::act || is_transfer(item.act.kind)) {
                return nullptr;
            }
        }
        return nullptr;
    }

    void round_and_round() {
        for (std::size_t i = 0; i < plan_.blocks.size(); ++i) {
            const LaidBlock& habit = plan_.blocks[i];
            if (!habit.rules.empty() && always(habit.rules[0]) && !habit.rules[0].acts.empty()) {
                const Act& last = habit.rules[0].acts.back();
                if (last.kind == ActKind::call && takes_no_look(static_cast<int>(plan_.block_number(last.name)), 0)) {
                    problems_.error(
                        last.span,
                        fmt::format(
                            "errand `{}` takes no time, so this rule would do it again and again within one look",
                            last.name),
                        "give the errand a motion with a limit, or put its acts into the rule");
                    return;
                }
            }
            int at = static_cast<int>(i);
            for (std::size_t steps = 0; const Act* act = sure_way_on(at); ++steps) {
                at = static_cast<int>(plan_.block_number(act->name));
                if (at == static_cast<int>(i)) {
                    problems_.error(
                        act->span,
                        fmt::format("`{}` and what it becomes go round within one look, without moving", habit.name),
                        "let one of them act until a condition holds");
                    return;
                }
                if (steps > plan_.blocks.size()) {
                    break; // round a ring that does not hold this block; reported from there
                }
            }
        }
    }

    const CheckedPlan& plan_;
    Problems& problems_;
    CallGraph graph_;
};

} // namespace

void check_calls(const CheckedPlan& plan, Problems& problems) {
    if (plan.blocks.size() > most_blocks) {
        problems.error(plan.blocks[most_blocks].name_span, fmt::format("a plan has at most {} blocks", most_blocks),
                       "use arguments instead of blocks that are alike");
        return;
    }
    CallChecker(plan, problems).run();
}

} // namespace vast_turn::lang
