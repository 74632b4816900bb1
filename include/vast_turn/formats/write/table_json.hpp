#pragma once

/// Pattern tables as JSON (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/plan/explain/pattern_table.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// Pattern tables of a plan. With a robot each case says what it does.
std::string table_json(const Plan& plan, const std::vector<HabitTable>& tables, const Robot* robot = nullptr);

} // namespace vast_turn
