#pragma once

/// Plans side by side, drawn.

#include <string>
#include <vector>

#include "vast_turn/trial/comparison.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// The paths of all plans over each other (of each trip the run with the first seed), and below, for the trip of this
/// number, how far the array's middle was from the tape against the way driven.
std::string draw_comparison(const Scene& scene, const std::vector<PlanFigures>& all, std::size_t trip,
                            PictureFormat format);

} // namespace vast_turn
