#pragma once

/// Calibrations as TOML (`*.calibration.toml`; docs/files.md).

#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/calibration.hpp"

namespace vast_turn {

/// A calibration as it stands in a file: with the channels to which it belongs.
struct NamedCalibration {
    /// As it was named, for faults.
    std::string file;
    std::vector<std::string> channels;
    Calibration levels; ///< in the order of `channels`
};

/// Reads a file, or its text. Throws InputError with every fault found.
NamedCalibration load_calibration(const std::string& path);
NamedCalibration parse_calibration(std::string_view text, std::string_view file);

/// The levels in the order of a robot's sensors, matched by channel (or as `sensor_1` ...). Throws
/// InputError when a sensor has none or a channel is not the robot's.
Calibration calibration_for(const Robot& robot, const NamedCalibration& calibration);

} // namespace vast_turn
