#pragma once

#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

/// Finds the moment that decided that a failed run went another way.
///
/// The way that was expected is the shortest along the tapes from the last place reached as expected
/// to the next one. The run parted at the last look in which that way was under the array. The
/// deciding look is the last one before (within the distance that a decision takes to show) in which
/// another rule with another motion held as well; where there is none, the last in which the array
/// saw line at all.
Parting find_parting(const Scene& scene, const Plan& plan, const Trip& trip, const Run& run);

} // namespace vast_turn
