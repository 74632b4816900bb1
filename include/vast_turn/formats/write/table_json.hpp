#pragma once

/// Pattern tables as JSON (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/plan/explain/pattern_table.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// Pattern tables of a plan, habit by habit, pattern by pattern, with every case in the order in which it is tested.
/// With a robot each case says what it does: the manoeuvre, speed and radius that the powers come to.
std::string table_json(const Plan& plan, const std::vector<HabitTable>& tables, const Robot* robot = nullptr);

} // namespace vast_turn
