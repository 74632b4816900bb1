#pragma once

/// Pilots side by side as JSON (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/trial/comparison.hpp"

namespace vast_turn {

/// Plans side by side. `layouts`: over how many, of compare_layouts(); 0 of compare().
std::string comparison_json(const std::vector<TripCase>& cases, const std::vector<PilotFigures>& all, int layouts = 0);

} // namespace vast_turn
