#pragma once

/// Rules and events of a plan in words.

#include <string>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/runtime/look.hpp"

namespace vast_turn {

/// "line 9 (mirrored): [#.] -> wheels(25, 40)" of a rule, guard or item by its number in Plan::rules().
std::string describe_rule(const Plan& plan, RuleId rule);

/// What an event says: the text of a note, "green" of a light, "arm 40" of something told, or a sentence.
std::string describe_event(const Plan& plan, const Event& event);

} // namespace vast_turn
