#pragma once

/// Logs that a fit can be made of.

#include <vector>

#include "vast_turn/fit/drive_log.hpp"

namespace vast_turn {

/// Throws InputError for logs that fit() refuses: none, too short or too long ones, lists that are not as long as the
/// log, numbers that no robot tells.
void check_logs(const std::vector<DriveLog>& logs);

} // namespace vast_turn
