#pragma once

/// Junctions that a failed run took where there are none.

#include "sim/junction_misreads.hpp"
#include "trial/recorder.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

/// Where rules of a run that are meant for junctions (they count, or acted at a junction in this run too) acted on a
/// plain line, or twice at a junction, up to and without a look.
JunctionTakes junction_takes(const Scene& scene, const Plan& plan, const FollowedRun& followed, std::size_t until);

/// Adds to what is told of the parting the misreads of junctions before the run left its way: the first three. Where
/// the rule at the parting was called by the last of them, and no other decision is known, that one is told as
/// deciding. Drives the run again; `options` are those of its trip.
void tell_junction_misreads(const Scene& scene, const Plan& plan, TripResult& result, const RunOptions& options);

} // namespace vast_turn
