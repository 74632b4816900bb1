#pragma once

/// Bench readings as CSV (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/sense/bench_readings.hpp"

namespace vast_turn {

/// The text of a recording, as parse_bench reads it.
std::string bench_csv(const BenchReadings& readings);

} // namespace vast_turn
