#pragma once

/// Who called the blocks that are in hand.

#include <cstddef>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// The rules and items that called the blocks in hand at a look of a run, the innermost block's first: found by driving
/// the run again. Empty when only the first block is in hand.
std::vector<RuleId> callers_at(const Scene& scene, const Plan& plan, const RunOptions& options, std::size_t look);

} // namespace vast_turn
