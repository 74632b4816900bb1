#pragma once

/// Which decision it was, found by acting otherwise.

#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

/// The deciding look of a failed run is the last one, up to where it left the expected way, at which acting otherwise
/// still brings the robot on as expected: the run is driven again and from that look on, for a short while, another
/// rule of the habit in hand acts in place of the one that did, or left and right are exchanged in what it did, or the
/// item in hand ends there or does not end. That is the actual cause by intervention (Halpern and Pearl, "Causes and
/// explanations", British Journal for the Philosophy of Science 56, 2005), with the smallest contingency: nothing else
/// is changed.
///
/// Puts look, rule, pattern and `otherwise` of the parting right; leaves it as it is when nothing brings the robot on.
/// `options` are those of the run.
void find_deciding_look(const Scene& scene, const Plan& plan, TripResult& result, const RunOptions& options,
                        int threads);

/// The first look since when a run that was ended by its time or for being lost has gone nowhere for at least a second;
/// as many as there are looks when there is none.
std::size_t stays_from(const Run& run);

/// Tells this one of its decisions: look, rule, pattern and what held too. The callers are to be found anew.
void tell_decision(const Scene& scene, const Plan& plan, TripResult& result, const Decision& decision);

} // namespace vast_turn
