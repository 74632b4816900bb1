#pragma once

/// Whether a tuning can be as it is asked for.

#include <cstdint>

#include "vast_turn/tune/tune.hpp"

namespace vast_turn {

/// Days on end without a failure that a SequentialTest takes to say that it holds.
std::uint64_t days_to_confirm(double sure);

/// Throws InputError for what cannot be.
void check_tuning(const TuneAsk& ask);

} // namespace vast_turn
