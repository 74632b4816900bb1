#pragma once

/// The columns of a log in which looks are told as text.

#include <functional>
#include <string>
#include <vector>

#include "vast_turn/robot/robot.hpp"
#include "vast_turn/runtime/look.hpp"

namespace vast_turn {

/// One column of what is told.
struct TextColumn {
    std::string name;
    std::function<std::string(const Look&)> cell;
};

/// Names whose numbers stand in looks.
struct TextNames {
    std::vector<std::string> markers;
    std::vector<std::string> places; ///< colour sensors
    std::vector<std::string> heard;
};

/// The clock, the sensors' counts and all else that the robot can tell; with `readings` also what is made of the
/// counts.
std::vector<TextColumn> text_columns(const TextNames& called, const Robot& robot, bool readings);

/// Their names in a line, and a look in a row, without a line break.
std::string names_of(const std::vector<TextColumn>& columns);
std::string row_of(const std::vector<TextColumn>& columns, const Look& look);

} // namespace vast_turn
