#pragma once

/// Bench readings as CSV (docs/files.md).

#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/bench_readings.hpp"

namespace vast_turn {

/// Reads one file. `what_lies_under` is given for files without a column `under`; it must be empty for
/// the others. Throws InputError with every fault found.
BenchReadings parse_bench(std::string_view text, std::string_view file, const std::string& what_lies_under = {});

/// Reads files one after another as one recording. A name is a path, or `WHAT=PATH` for a file without
/// a column `under`: `line=on-tape.csv`. All must have the same sensors.
BenchReadings load_bench(const std::vector<std::string>& names);

/// The readings with their columns in the order of the robot's sensors. A column is known by the
/// sensor's channel, or as `sensor_1`, `sensor_2` ... from the left. Throws InputError when they do not
/// match one to one.
BenchReadings arranged_for(const Robot& robot, const BenchReadings& readings);

} // namespace vast_turn
