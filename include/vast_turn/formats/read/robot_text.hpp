#pragma once

/// A robot file with some of its numbers changed, and all else as it was written.

#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/settings/setting.hpp"

namespace vast_turn {

/// The text with those numbers of the robot in place of its own, comments, order and line ends kept. A key that is not
/// there is put at the begin of its table, a table that is not there at the end. Throws InputError when the text is no
/// robot file
/// (`file` is what it is called), and when it would be none after the change.
std::string robot_text_with(std::string_view text, const std::string& file, const std::vector<Setting>& changes);

} // namespace vast_turn
