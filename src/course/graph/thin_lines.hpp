#pragma once

/// Thin strokes that hang on lines.

#include <cstddef>
#include <vector>

#include "course/graph/line_net.hpp"

namespace vast_turn {

/// Takes out what is less than two fifths as wide as lines are, and tells it: a frame, an arrow or a dimension line
/// that crosses the tape makes no junction. Where no widths are given, lines are as wide as most of what was found is,
/// and what is thin goes where it is little beside that. Returns which went.
std::vector<std::size_t> take_out_thin_lines(LineNet& net, const std::vector<double>& line_widths_mm);

} // namespace vast_turn
