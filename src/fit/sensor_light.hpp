#pragma once

/// How much light line sensors get, against what they got when they were calibrated.

#include <optional>
#include <vector>

#include "fit/sensor_fit.hpp"
#include "vast_turn/fit/fit.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/calibration.hpp"

namespace vast_turn {

/// Of one sensor.
struct SensorLight {
    double part = 1.0;  ///< of the light that it got then
    double error = 0.0; ///< its standard error
};

/// By what it saw most, floor or line: which of them follows from its counts, as long as the light is nearly the same.
/// None where that is not clear, and where its counts are at the end of their range.
std::optional<SensorLight> light_of(const SensorFit& sensor, const SensorLevels& then, const LineSensor& filed);

/// By how much all sensors would sit higher if that alone had changed their light (the inverse square of the height,
/// see raised()). None when they do not agree, when it is next to nothing, and when a height is not known.
std::optional<RaisedSensors> raised_alike(const Robot& filed, const std::vector<std::optional<SensorLight>>& lights);

} // namespace vast_turn
