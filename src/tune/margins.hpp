#pragma once

/// How far each number of a winner may go by itself.

#include <vector>

#include "tune/field.hpp"

namespace vast_turn {

/// Outwards in growing steps, both ways for all numbers at once, then half way back once; each place on the first days
/// of the search. Empty places where told to stop.
std::vector<TuneMargin> margins_of(TuneField& field, CandidateNumber winner, const TuneAsk& ask);

} // namespace vast_turn
