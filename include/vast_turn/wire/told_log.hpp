#pragma once

/// What an exported program told over its serial line in the short form, as a log.

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/fit/drive_log.hpp"
#include "vast_turn/plan/explain/log_check.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/array_reader.hpp"

namespace vast_turn {

/// Whether these bytes begin as frames do.
bool is_told_in_frames(std::string_view bytes);

/// The looks of the frames, in their order, from the first look on; what is no whole frame of this plan and robot is
/// passed over, as at a line that was listened to too late. `reader` makes readings and bits of the counts. Throws
/// InputError when there is no look in it, or looks of two programs.
std::vector<LoggedLook> parse_told(std::string_view bytes, const std::string& file, const Plan& plan,
                                   const Robot& robot, ArrayReader reader);

/// The same as a fit wants it: powers, and what of wheels, turns and counts was told. Throws InputError as above.
DriveLog told_drive_log(std::string_view bytes, const std::string& file, const Plan& plan, const Robot& robot);

/// Looks as the text of a log (docs/files.md): the clock, counts, all else that the robot can tell, and powers where
/// all looks have them. `plan` names markers, colour sensors and what is heard.
std::string told_log_csv(const std::vector<LoggedLook>& looks, const Robot& robot, const std::optional<Plan>& plan);

} // namespace vast_turn
