#pragma once

/// Junctions that a failed run took where there are none.

#include "sim/junction_misreads.hpp"
#include "trial/recorder.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

/// Where rules of a run that are meant for junctions (they count, or acted at a junction in this run too) acted on a
/// plain line, over a plate, or twice at a junction, and junctions that it did not count, up to and without a look.
JunctionTakes junction_takes(const Scene& scene, const Plan& plan, const FollowedRun& followed, std::size_t until);

/// Adds to what is told of the parting what the run took for something else before it left its way, by time: of
/// junctions the first three, of the edges of plates the last three (edge_misreads.hpp). Where the rule at the parting
/// was called by the last misread of a junction, and no other decision is known, that one is told as deciding. Drives
/// the run again; `options` are those of its trip.
void tell_misreads(const Scene& scene, const Plan& plan, TripResult& result, const RunOptions& options);

} // namespace vast_turn
