#pragma once

/// Whether a plan decides otherwise when it computes in `float`.

#include <cstddef>
#include <optional>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/runtime/look.hpp"

namespace vast_turn {

/// A plan that was asked the same looks with both kinds of numbers.
struct NumbersCheck {
    std::size_t looks = 0;            ///< asked
    std::size_t differing = 0;        ///< of those, in how many another rule acts, or only one has halted
    std::optional<std::size_t> first; ///< index of the first of them
    RuleId by_double;                 ///< the rule that acts there in `double`, or no_rule
    RuleId by_float;                  ///< and in `float`
};

/// Asks the looks in their order, from the plan's beginning. Powers that differ by rounding alone are no difference.
NumbersCheck check_numbers(const Plan& plan, const std::vector<Look>& looks);

} // namespace vast_turn
