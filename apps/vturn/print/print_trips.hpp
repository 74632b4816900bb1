#pragma once

#include <vector>

#include "cli.hpp"
#include "vast_turn/formats/write/results.hpp"
#include "vast_turn/trial/take_trips.hpp"

namespace vturn {

/// What is done with the trips of a course.
struct TripsWork {
    std::vector<vast_turn::TripCase> cases;
    vast_turn::TakeTripsOptions options; ///< but for what it calls
    bool cures = true;
};

/// Drives the cases with each plan, repeats with seeds one after another, and looks for cures of those that
/// fail. Work of more than a second shows how far it is on the error stream. Nothing when it was interrupted (Ctrl-C):
/// then what was done is printed.
std::vector<vast_turn::PlanTrips> take_all(const Streams& streams, const std::vector<vast_turn::Plan>& plans,
                                           const TripsWork& work);

/// The trips of all plans side by side, the failures explained below. Returns the exit status.
int print_trips(const Streams& streams, const std::vector<vast_turn::TripCase>& cases,
                const std::vector<vast_turn::PlanTrips>& all);

} // namespace vturn
