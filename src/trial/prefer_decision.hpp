#pragma once

/// What a cure says about which decision it was.

#include "vast_turn/trial/cures.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

/// Whether two plans ask for the same markers, colour sensors and heard names by the same numbers, so that one run can
/// change from one to the other.
bool ask_alike(const Plan& one, const Plan& other);

/// Fills in who called at the deciding look. `options` are those of the run.
void note_callers(const Scene& scene, const Plan& plan, TripResult& result, const RunOptions& options);

/// Of the decisions that would have put a failed run right, tells the one whose rule the cure changes. When there is
/// none, the deciding look is the last one at which changing to the cured plan still brings the robot on. Does nothing
/// unless the cure counts.
void prefer_decision(const Scene& scene, const Plan& plan, TripResult& result, const Cure& cure,
                     const RunOptions& options);

} // namespace vast_turn
