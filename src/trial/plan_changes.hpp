#pragma once

/// Changes among a plan's own rules and numbers.

#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

struct PlanChange {
    std::string what; ///< "line 10 moved above line 9"
    std::string text; ///< the whole plan, changed; it may not compile
};

/// What a person might try who found that these rules decided: see find_cures().
std::vector<PlanChange> changes_of(const Plan& plan, const std::vector<RuleId>& rules);

} // namespace vast_turn
