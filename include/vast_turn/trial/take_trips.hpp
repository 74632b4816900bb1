#pragma once

/// Many trips with many plans, again and again, on all cores.

#include <functional>
#include <optional>
#include <vector>

#include "vast_turn/trial/trip.hpp"
#include "vast_turn/trial/trip_case.hpp"

namespace vast_turn {

/// The runs of one case by one plan.
struct CaseRuns {
    TripResult result; ///< the first run that failed, else the first; of several that passed without its looks
    int runs = 0;
    int passed = 0;
};

struct TakeTripsOptions {
    RunOptions run;             ///< its seed is the first run's; each further run of a case has the next
    int repeats = 0;            ///< runs of each case; 0: as its trip says
    int threads = 0;            ///< 0: as many as there are
    std::function<void()> done; ///< called after each run, from any thread
    std::function<bool()> stop; ///< asked before each run, from any thread: true makes no more runs
};

/// How many runs that will be.
std::size_t runs_of(const std::vector<TripCase>& cases, std::size_t plans, const TakeTripsOptions& options);

/// Drives every case with every plan; by plan, then by case. The same for any number of threads, unless
/// `stop` says so: then there are fewer runs of some cases, and none of those of which none was made.
std::vector<std::vector<std::optional<CaseRuns>>>
take_trips(const std::vector<TripCase>& cases, const std::vector<Plan>& plans, const TakeTripsOptions& options = {});

} // namespace vast_turn
