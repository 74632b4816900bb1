#pragma once

#include "formats/write/json_text.hpp"
#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

/// A rule, guard or item by its number in Plan::rules(): where it stands and what it says.
Json rule_json(const Plan& plan, RuleId rule);

} // namespace vast_turn
