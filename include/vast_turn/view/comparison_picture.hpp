#pragma once

/// Plans side by side, drawn.

#include <string>
#include <vector>

#include "vast_turn/trial/comparison.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// Of the case of this number the paths of all plans over each other, each the run with the first seed, and below, how
/// far to which side of the tape the array's middle was against the way driven.
std::string draw_comparison(const std::vector<TripCase>& cases, const std::vector<PilotFigures>& all, std::size_t trip,
                            PictureFormat format);

} // namespace vast_turn
