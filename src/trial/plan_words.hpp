#pragma once

/// Changes of single words of a plan's text: what a hand that copies and corrects takes for one another.

#include <vector>

#include "trial/plan_changes.hpp"
#include "trial/plan_text.hpp"

namespace vast_turn {

/// `and` for `or`, comparisons turned round, another sensor, another block that is done or become, another let or var,
/// `fresh` more or less, the other sign of a side that has a name. Not all of them compile.
std::vector<PlanChange> changed_words(const PlanText& plan);

} // namespace vast_turn
