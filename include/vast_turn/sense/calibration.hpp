#pragma once

/// The levels of a whole array.

#include <vector>

#include "vast_turn/runtime/sensing.hpp"

namespace vast_turn {

/// The levels of a whole array, left to right, at most max_sensors.
struct Calibration {
    std::vector<SensorLevels> sensors;
};

/// Of an array whose counts are readings already: 0 floor, 1 line, threshold half way.
Calibration calibration_of_readings(int sensors);

} // namespace vast_turn
