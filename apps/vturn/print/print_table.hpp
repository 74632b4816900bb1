#pragma once

#include <string>
#include <vector>

#include "cli.hpp"
#include "vast_turn/plan/explain/pattern_table.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vturn {

/// How a pattern table is shown.
struct TableLook {
    const vast_turn::Robot* robot = nullptr; ///< tells what the robot does, when there is one
    bool each_pattern = false;               ///< a row for every pattern, even of large arrays
};

/// One habit's table for a terminal.
void print_table(const Streams& streams, const vast_turn::Plan& plan, const vast_turn::HabitTable& table,
                 const TableLook& look);

/// All tables of a plan as Markdown.
std::string table_markdown(const vast_turn::Plan& plan, const std::vector<vast_turn::HabitTable>& tables,
                           const TableLook& look);

} // namespace vturn
