#pragma once

/// Pilots side by side as JSON (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/trial/comparison.hpp"

namespace vast_turn {

/// Plans side by side.
std::string comparison_json(const std::vector<TripCase>& cases, const std::vector<PilotFigures>& all);

} // namespace vast_turn
