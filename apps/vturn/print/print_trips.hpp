#pragma once

#include "cli.hpp"
#include "vast_turn/trial/trip_report.hpp"

namespace vturn {

/// The trips of all plans side by side, the failures explained below. Returns the exit status.
int print_trips(const Streams& streams, const vast_turn::TripReport& report);

/// What was done until Ctrl-C, to the error stream.
void print_interrupted(const Streams& streams, const vast_turn::TripReport& report);

} // namespace vturn
