#pragma once

#include "vast_turn/trial/matched_route.hpp"
#include "vast_turn/trial/parting.hpp"
#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

/// Finds the moment that decided that a failed run went another way. The trip has one lap, the run its looks.
///
/// The way that was expected is the shortest along the lines from the last place reached as expected
/// to the next one. The run parted at the last look in which that way was under the array. The
/// deciding look is the last one before (within the distance that a decision takes to show) in which
/// another rule with another motion held as well; where there is none, the last in which the array
/// saw line at all.
Parting part_of(const Scene& scene, const Pilot& pilot, const Trip& trip, const Run& run, const MatchedRoute& route);

/// Rules that held in a look of a run as well and would have moved the wheels in another way.
std::vector<RuleId> rivals_at(const Scene& scene, const Plan& plan, const LookRecord& look);

} // namespace vast_turn
