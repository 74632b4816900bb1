#pragma once

/// A run look by look, as CSV (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// Every look of a run as CSV, one line each. `plan` names the rules; null when the decisions came
/// from other code.
std::string trace_csv(const Run& run, const Robot& robot, const Plan* plan);

} // namespace vast_turn
