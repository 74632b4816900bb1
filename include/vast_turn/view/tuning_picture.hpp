#pragma once

/// What a tuning tried, drawn.

#include <string>
#include <vector>

#include "vast_turn/sweep/axis.hpp"
#include "vast_turn/tune/tune.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// A panel a number: its value across, the time up, a dot for each place that was tried: filled where it held as far as
/// it was driven, hollow where it failed; where none of its days passed, in the strip at the top. The winner and what
/// the numbers were are ringed, and the winner's margins stand below. At most twelve numbers. `title`: the course, the
/// robot, the plan.
std::string draw_tuning(const std::vector<Axis>& axes, const TuneAsk& ask, const Tuned& tuned, const std::string& title,
                        PictureFormat format);

} // namespace vast_turn
