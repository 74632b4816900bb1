#pragma once

/// Logs of runs as a fit wants them: powers, and whatever was measured.

#include <string_view>

#include "vast_turn/fit/drive_log.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// Reads a log (docs/files.md): CSV with `clock_ms`, `time_ms` or `time_s`, `left_pct` and `right_pct`, and as far as
/// they are there `left_deg`, `right_deg`, `by_gyro_deg`, `by_compass_deg`, `way_mm`, `by_wheels_deg`, and counts as
/// `raw_1` ... or by the robot's channels. Throws InputError with every fault found.
DriveLog parse_drive_log(std::string_view text, std::string_view file, const Robot& robot);

} // namespace vast_turn
