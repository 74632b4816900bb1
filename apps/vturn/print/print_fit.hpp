#pragma once

/// What a fit found, for people.

#include "cli.hpp"
#include "vast_turn/fit/fit.hpp"

namespace vturn {

void print_fit(const Streams& streams, const vast_turn::FitReport& report);

} // namespace vturn
