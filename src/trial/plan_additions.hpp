#pragma once

/// Lines that a plan may lack: what was left out, or copied to one place fewer than it should.

#include <set>
#include <string>
#include <vector>

#include "trial/plan_changes.hpp"
#include "trial/plan_text.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

/// What a run did just before it went wrong: there a line is missing, if one is.
struct Acted {
    std::set<int> lines;               ///< of the rules and items that acted last
    std::set<int> ever;                ///< of those that acted at any time: a turn may spoil what comes much later
    std::set<std::string> blocks;      ///< in which they stand
    std::vector<std::string> patterns; ///< that the array saw, as marks, the last first
    bool should_halt = false;          ///< it was to halt and did not
    double array_ahead_mm = 0.0;       ///< of the array's middle before the axle
};

/// Over the last 420 mm before it left the way, and until then; nothing of a run without looks.
Acted acted_before(const Plan& plan, const Scene& scene, const TripResult& failed, const RunOptions& options);

/// Items of the plan's errands put in once more beside those that acted, blocks that nothing calls called, counts
/// (plan_counts.hpp), rules of
/// other habits put in where one acted, rules copied for another pattern that was seen, going straight on or turning on
/// the spot for it, going on over a crossing before the first turn of an errand, off the line before a turn that ends
/// over one, a halt where the array sees no line any more. Not all of them compile.
std::vector<PlanChange> added_lines(const PlanText& plan, const Acted& acted);

} // namespace vast_turn
