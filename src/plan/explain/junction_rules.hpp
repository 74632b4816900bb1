#pragma once

/// Which rules of a plan take what its line sensors see for a junction.

#include <cstdint>
#include <vector>

#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

namespace lang {
struct Expr;
}

/// Whether a part of a condition asks what the line sensors see.
bool asks_of_line(const lang::Expr& part);

/// Whether a part of a condition asks for what no line sensor sees, or remembers.
bool asks_of_more(const lang::Expr& part);

/// What a rule does where its patterns hold.
enum class JunctionRule : std::uint8_t {
    none,   ///< nothing that is meant for a junction alone
    errand, ///< it does an errand
    counts, ///< it counts, or its errand does: sets a `var` by what it was
    turns,  ///< an item that goes on till the line sensors see something, where a turn follows within two items
};

/// By rule: those of habits that ask for nothing but the line sensors and what the plan remembers, and of which no
/// errand asks for a marker; and items, in the numbers of Plan::rules().
std::vector<JunctionRule> junction_rules(const Plan& plan);

/// Whether it may be for what the line sensors see that an item ended.
bool ends_by_line(const Plan& plan, RuleId item, std::uint8_t line_bits);

} // namespace vast_turn
