#pragma once

/// A calibration as TOML, as load_calibration() reads it (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/sense/calibrate.hpp"

namespace vast_turn {

/// The text of a report's calibration. `made_from` names the readings, in a comment.
std::string calibration_toml(const CalibrationReport& report, const std::string& made_from);

} // namespace vast_turn
