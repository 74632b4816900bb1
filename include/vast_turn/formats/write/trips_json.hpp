#pragma once

/// Runs and trips as JSON (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/plan/explain/numbers_check.hpp"
#include "vast_turn/trial/layouts_report.hpp"
#include "vast_turn/trial/trip_report.hpp"
#include "vast_turn/wire/other_mind.hpp"

namespace vast_turn {

/// A run: route, end, way, events. Not its looks: those are in the trace. `numbers`: of one that was driven in float,
/// with what it was told kept, what double decides otherwise.
/// `pace`: of one in which a program decided, how it kept pace.
std::string run_json(const Scene& scene, const Pilot& pilot, const Run& run, const NumbersCheck* numbers = nullptr,
                     const Pace* pace = nullptr);

/// Trips as JSON: what came of each with each pilot, and why.
std::string trips_json(const TripReport& report, const Pace* pace = nullptr);

/// The same of many layouts: what came of each trip on each, and of those that were looked into why.
std::string trips_json(const LayoutsReport& report);

} // namespace vast_turn
