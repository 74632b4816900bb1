#pragma once

/// Runs and trips as JSON (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/plan/explain/numbers_check.hpp"
#include "vast_turn/trial/layouts_report.hpp"
#include "vast_turn/trial/trip_report.hpp"

namespace vast_turn {

/// A run: route, end, way, events. Not its looks: those are in the trace. `numbers`: of one that was driven in float,
/// with what it was told kept, what double decides otherwise.
std::string run_json(const Scene& scene, const Pilot& pilot, const Run& run, const NumbersCheck* numbers = nullptr);

/// Trips as JSON: what came of each with each pilot, and why.
std::string trips_json(const TripReport& report);

/// The same of many layouts: what came of each trip on each, and of those that were looked into why.
std::string trips_json(const LayoutsReport& report);

} // namespace vast_turn
