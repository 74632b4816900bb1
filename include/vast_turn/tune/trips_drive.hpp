#pragma once

/// Trips as what a tuning drives.

#include "vast_turn/sweep/sweep.hpp"
#include "vast_turn/tune/tune.hpp"

namespace vast_turn {

/// Drives the cases of `trips` with the values of its axes, in the order of TuneAsk::numbers; a case is a trip of the
/// tuning. Day 1 of the tuning is the seed or the day of `trips.run`, day 2 the next ... Of the others `plan`, `robot`,
/// `threads` and `crew` count. The same for any number of threads. Values with which nothing can be driven give no
/// runs, but for the first of all: what is wrong with those is thrown.
TuneDrive trips_drive(SweepAsk trips);

} // namespace vast_turn
