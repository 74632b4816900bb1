#pragma once

#include <string>

#include "cli.hpp"
#include "vast_turn/sense/calibrate.hpp"

namespace vturn {

/// Levels, markers, sweep and verdicts. `about` says whose calibration it is.
void print_calibration(const Streams& streams, const vast_turn::CalibrationReport& report, const std::string& about);

} // namespace vturn
