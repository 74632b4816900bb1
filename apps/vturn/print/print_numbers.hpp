#pragma once

/// Whether decisions hang on how numbers are computed.

#include <vector>

#include "cli.hpp"
#include "vast_turn/plan/explain/numbers_check.hpp"
#include "vast_turn/trial/trip_case.hpp"

namespace vturn {

/// One line: what `double` decides otherwise in a run that was driven in `float`.
void print_numbers(const Streams& streams, const vast_turn::Plan& plan, const vast_turn::NumbersCheck& check,
                   const std::vector<vast_turn::Look>& told);

/// The same of trips: the first run of each is driven again, and each in which `double` decides otherwise is told.
void print_numbers_of_trips(const Streams& streams, const vast_turn::Plan& plan,
                            const std::vector<vast_turn::TripCase>& cases, vast_turn::RunOptions options);

} // namespace vturn
