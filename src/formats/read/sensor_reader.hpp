#pragma once

/// Reads what a robot is fitted with to sense.

#include <vector>

#include "formats/read/toml_reader.hpp"
#include "vast_turn/robot/sensors.hpp"

namespace vast_turn {

/// All `[[sensor]]` of a robot file: its line sensors, left to right.
std::vector<LineSensor> read_sensors(TomlTable& root);
/// All `[[colour_sensor]]`; one may be a line sensor at the same time.
std::vector<ColourSensor> read_colour_sensors(TomlTable& root, const std::vector<LineSensor>& line_sensors);
RangeSensor read_range_sensor(TomlTable table);
/// The tables of these three say that they are there, unless `fitted = false`.
Gyro read_gyro(TomlTable& root);
Compass read_compass(TomlTable& root);
Encoders read_encoders(TomlTable& root);

} // namespace vast_turn
