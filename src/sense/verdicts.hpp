#pragma once

#include <vector>

#include "vast_turn/sense/calibrate.hpp"

namespace vast_turn {

/// Everything in a report that a person should know, serious things first.
std::vector<Verdict> verdicts_on(const CalibrationReport& report, const ArrayFacts& facts);

} // namespace vast_turn
