#pragma once

#include "plan/check/checked.hpp"

namespace vast_turn::lang {

/// Writes out twins, brings in the rules of other habits, lays errands flat.
void lay_out(const PlanTree& tree, CheckedPlan& out, Problems& problems);

/// What only shows over several blocks: a block that calls itself, a habit that never comes back to
/// its errand, transfers that go round without moving.
void check_calls(const CheckedPlan& plan, Problems& problems);

} // namespace vast_turn::lang
