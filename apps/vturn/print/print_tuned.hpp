#pragma once

/// What came of a tuning, in words.

#include <string>
#include <vector>

#include "cli.hpp"
#include "vast_turn/sweep/axis.hpp"
#include "vast_turn/tune/tune.hpp"

namespace vturn {

void print_tuned(const Streams& streams, const std::string& title, const std::vector<vast_turn::Axis>& axes,
                 const vast_turn::TuneAsk& ask, const vast_turn::Tuned& tuned);

} // namespace vturn
