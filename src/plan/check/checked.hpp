#pragma once

/// A plan whose names, types and units are right, laid out for compiling.

#include <cstdint>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "plan/text/syntax.hpp"
#include "vast_turn/runtime/program.hpp"

namespace vast_turn::lang {

/// A part of an errand, laid flat: loops and choices are jumps.
struct LaidItem {
    using Kind = runtime::ItemKind; ///< move: a motion under a limit; call: a block, perhaps under one; act: a side
                                    ///< act or transfer, once; the others as the runtime has them, by `target`
    Kind kind = Kind::act;
    Act act;
    Limit limit;                  ///< of round: the loop's `till`
    Expr condition;               ///< of branch
    std::optional<Expr> count;    ///< of loop: how often
    std::optional<Expr> widening; ///< of loop
    int target = no_slot;         ///< an item of the same errand; one behind the last ends it
    int loop = no_slot;           ///< the innermost loop around it; of loop, round and again: their own
    Span span;
};

/// Memory of a loop of an errand: its first cell and whether it keeps where it began.
struct LaidLoop {
    int outer = no_slot;
    int cell = no_slot;
    bool keeps_marks = false; ///< its `till` counts from where it began
};

/// A block with twins written out, the rules of other habits in place of `as`, and items laid flat.
struct LaidBlock {
    std::string name;
    bool is_errand = false;
    Span name_span;
    std::vector<Param> params;
    std::vector<Rule> guards;
    std::vector<Rule> rules;
    std::vector<LaidItem> items;
    std::vector<LaidLoop> loops;
};

struct LaidVar {
    std::string name;
    double first = 0.0;
    Type type;
};

struct CheckedPlan {
    std::string name;
    int sensors = 0;
    std::vector<std::string> markers;
    std::vector<std::string> heard;
    std::vector<std::string> places;
    std::vector<double> weights; // empty when the plan gives none
    std::vector<LaidVar> vars;
    std::vector<Rule> guards; // plan-wide
    std::vector<LaidBlock> blocks;
    int parts = 0; // as many numbers have been given to parts that remember, see Expr::number
    Source source;

    explicit CheckedPlan(const Source& text) : source(text) {}

    /// The number of a block that is known to exist.
    std::size_t block_number(const std::string& block) const;
};

/// Calls `visit` for every expression of the rules and items, each as a whole, in the order in which they stand.
template <class Plan, class Visit> void for_each_expression(Plan& plan, Visit visit) {
    const auto acts = [&](auto& list) {
        for (auto& act : list) {
            for (auto& arg : act.args) {
                visit(arg);
            }
        }
    };
    const auto rules = [&](auto& list) {
        for (auto& rule : list) {
            visit(rule.condition);
            acts(rule.acts);
        }
    };
    rules(plan.guards);
    for (auto& block : plan.blocks) {
        rules(block.guards);
        rules(block.rules);
        for (auto& item : block.items) {
            visit(item.limit.value);
            visit(item.limit.wheel);
            visit(item.condition);
            if (item.count) {
                visit(*item.count);
            }
            if (item.widening) {
                visit(*item.widening);
            }
            for (auto& arg : item.act.args) {
                visit(arg);
            }
        }
    }
}

/// Checks names, types, units and structure; fills `out` as far as it can. Without an error in
/// `problems` it can be compiled. Lets that are called `as_vars` are vars to all but other lets, which are reckoned
/// from what they are at first.
void check(PlanTree tree, CheckedPlan& out, Problems& problems, const std::set<std::string>& as_vars = {});

/// The twin of a checked rule: left and right exchanged.
Rule mirror_image(const Rule& rule, int sensors);

} // namespace vast_turn::lang
