#pragma once

/// Trips as JUnit XML (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/trial/trip_report.hpp"

namespace vast_turn {

/// Trips as JUnit XML: a test suite for each pilot, a test case for each case.
std::string trips_junit(const TripReport& report);

} // namespace vast_turn
