#include "plan/explain/junction_rules.hpp"

#include <algorithm>

#include "plan/check/check_types.hpp"
#include "plan/check/checked.hpp"

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
    const auto called = [&](const lang::Act& act) {
        return act.kind == lang::ActKind::call ? std::find_if(blocks.begin(), blocks.end(),
                                                              [&](const auto& block) { return block.name == act.name; })
                                               : blocks.end();
    };
    const auto counts_there = [&](const lang::Act& act) {
        const auto block = called(act);
        return block != blocks.end() && std::any_of(block->items.begin(), block->items.end(),
                                                    [](const lang::LaidItem& item) { return counts(item.act); });
    };
    if (does(counts) || does(counts_there)) {
        return JunctionRule::counts;
    }
    return does([](const lang::Act& act) { return act.kind == lang::ActKind::call; }) ? JunctionRule::errand
                                                                                      : JunctionRule::none;
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
    list.resize(plan.rules().size(), JunctionRule::none);
    return list;
}

} // namespace vast_turn
