#pragma once

/// Trips as JUnit XML (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/trial/layouts_report.hpp"
#include "vast_turn/trial/trip_report.hpp"

namespace vast_turn {

/// Trips as JUnit XML: a test suite for each pilot, a test case for each case.
std::string trips_junit(const TripReport& report);

/// The same of many layouts: a test case for each trip on each.
std::string trips_junit(const LayoutsReport& report);

} // namespace vast_turn
