#pragma once

/// A tuning as JSON and as CSV; docs/sweeps.md has the forms.

#include <string>
#include <vector>

#include "vast_turn/sweep/axis.hpp"
#include "vast_turn/tune/tune.hpp"

namespace vast_turn {

/// Numbers with what they were, may be and are to be, how that was confirmed, margins, and all that was tried.
/// `layouts`: as of sweep_json().
std::string tuned_json(const std::vector<Axis>& axes, const TuneAsk& ask, const Tuned& tuned, std::size_t layouts = 0);

/// A row a place that was tried, in order: the numbers' values, then stage, days, failed, time_s, refuted, winner.
std::string tuned_csv(const std::vector<Axis>& axes, const Tuned& tuned);

} // namespace vast_turn
