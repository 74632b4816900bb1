#pragma once

#include <vector>

#include "cli.hpp"
#include "vast_turn/files/results.hpp"

namespace vturn {

/// The trips of all plans side by side, the failures explained below. Returns the exit status.
int print_trips(const Streams& streams, const vast_turn::Scene& scene, const std::vector<vast_turn::PlanTrips>& all);

/// Drives all trips of the course with each plan.
std::vector<vast_turn::PlanTrips> take_all(const vast_turn::Scene& scene, const std::vector<vast_turn::Plan>& plans,
                                           const vast_turn::RunOptions& options);

} // namespace vturn
