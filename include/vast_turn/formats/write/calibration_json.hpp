#pragma once

/// A whole calibration report as JSON (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/sense/calibrate.hpp"

namespace vast_turn {

/// A whole report as JSON.
std::string calibration_json(const CalibrationReport& report);

} // namespace vast_turn
