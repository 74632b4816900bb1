#pragma once

/// How odd a plan is in itself.

#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

/// Counts what is seldom meant: patterns that no rule answers, rules that no pattern reaches, a pattern to whose mirror
/// image the plan does something else than the mirror image, wheels that steer away from the line that is seen, and
/// powers written with a minus. Plans of people have some of each; of two changes that both mend a trip, one that makes
/// the plan less odd is likelier the slip undone, and one that makes it odder less likely.
int oddness(const Plan& plan);

} // namespace vast_turn
