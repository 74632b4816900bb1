#include "plan/explain/junction_rules.hpp"

#include <algorithm>
#include <bit>

#include "plan/check/check_types.hpp"
#include "plan/check/checked.hpp"
#include "plan/explain/numbered_part.hpp"

namespace vast_turn {

bool asks_of_line(const lang::Expr& part) {
    return part.is<lang::PatternMarks>() || is_input(part, lang::Op::seen) || is_input(part, lang::Op::offset) ||
           part.is<lang::Call>();
}

bool asks_of_more(const lang::Expr& part) {
    return part.is<lang::MarkerSeen>() || part.is<lang::Heard>() || part.is<lang::Variable>() ||
           part.is<lang::Argument>() || (part.is<lang::Input>() && !asks_of_line(part));
}

namespace {

bool counts(const lang::Act& act) {
    return act.kind == lang::ActKind::set && !act.args.empty() && lang::any_part(act.args[0], [&](const lang::Expr& e) {
               return e.is<lang::Variable>() && e.as<lang::Variable>()->text == act.name;
           });
}

JunctionRule kind_of(const lang::Rule& rule, const std::vector<lang::LaidBlock>& blocks) {
    const bool of_line = !rule.is_else && !rule.is_as && lang::any_part(rule.condition, asks_of_line) &&
                         !lang::any_part(rule.condition, [](const lang::Expr& part) {
                             return asks_of_more(part) && !part.is<lang::Variable>();
                         });
    if (!of_line) {
        return JunctionRule::none;
    }
    const auto does = [&](auto what) { return std::any_of(rule.acts.begin(), rule.acts.end(), what); };
    const auto errand = [&](const lang::Act& act) {
        const bool goes = act.kind == lang::ActKind::call || act.kind == lang::ActKind::become;
        return goes ? std::find_if(blocks.begin(), blocks.end(),
                                   [&](const auto& block) { return block.is_errand && block.name == act.name; })
                    : blocks.end();
    };
    const auto counts_there = [&](const lang::Act& act) {
        const auto block = errand(act);
        return block != blocks.end() && std::any_of(block->items.begin(), block->items.end(),
                                                    [](const lang::LaidItem& item) { return counts(item.act); });
    };
    const auto is_marker = [](const lang::Expr& part) { return part.is<lang::MarkerSeen>(); };
    const auto asks_marker = [&](const lang::Act& act) {
        const auto block = errand(act);
        return block != blocks.end() &&
               std::any_of(block->items.begin(), block->items.end(), [&](const lang::LaidItem& item) {
                   return lang::any_part(item.limit.value, is_marker) || lang::any_part(item.condition, is_marker);
               });
    };
    if (does(asks_marker)) {
        return JunctionRule::none; // a plate may be what it is for
    }
    const bool does_errand = does([&](const lang::Act& act) { return errand(act) != blocks.end(); });
    const bool is_fresh = lang::any_part(rule.condition, [](const lang::Expr& part) { return part.is<lang::Fresh>(); });
    if (does(counts_there) || (does(counts) && (is_fresh || does_errand))) { // else it counts looks
        return JunctionRule::counts;
    }
    return does_errand ? JunctionRule::errand : JunctionRule::none;
}

bool is_turn(const lang::LaidItem& item) {
    return item.kind == lang::LaidItem::Kind::move && (item.act.name == "rotate" || item.act.name == "pivot");
}

/// Whether an item ends by what the line sensors see, is no turn itself, and a turn follows it, or one item later.
bool goes_on_to_turn(const std::vector<lang::LaidItem>& items, std::size_t i) {
    const lang::LaidItem& item = items[i];
    const bool moves = item.kind == lang::LaidItem::Kind::move || item.kind == lang::LaidItem::Kind::call;
    const bool till_line = item.limit.kind == lang::Limit::Kind::till && lang::any_part(item.limit.value, asks_of_line);
    const auto turns = [&](std::size_t k) { return k < items.size() && is_turn(items[k]); };
    return moves && till_line && !is_turn(item) && (turns(i + 1) || turns(i + 2));
}

} // namespace

std::vector<JunctionRule> junction_rules(const Plan& plan) {
    std::vector<JunctionRule> list(plan.checked().guards.size(), JunctionRule::none);
    for (const lang::LaidBlock& block : plan.checked().blocks) {
        list.resize(list.size() + block.guards.size(), JunctionRule::none);
        for (const lang::Rule& rule : block.rules) {
            list.push_back(block.is_errand ? JunctionRule::none : kind_of(rule, plan.checked().blocks));
        }
    }
    for (const lang::LaidBlock& block : plan.checked().blocks) {
        for (std::size_t i = 0; i < block.items.size(); ++i) {
            list.push_back(goes_on_to_turn(block.items, i) ? JunctionRule::turns : JunctionRule::none);
        }
    }
    return list;
}

bool ends_by_line(const Plan& plan, RuleId item, std::uint8_t line_bits) {
    constexpr int more_than_line = 3; // sensors
    const lang::LaidItem* it = numbered_part(plan.checked(), item.index()).item;
    return it != nullptr && lang::any_part(it->limit.value, [&](const lang::Expr& part) {
               const auto* marks = part.as<lang::PatternMarks>();
               return marks != nullptr ? (line_bits & marks->mask) == marks->bits
                                       : asks_of_line(part) && std::popcount(line_bits) >= more_than_line;
           });
}

} // namespace vast_turn
