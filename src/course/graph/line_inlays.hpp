#pragma once

/// What of another colour lies on lines: plates on tape, and covers over it.

#include "course/graph/line_mask.hpp"

namespace vast_turn {

/// Marks cells of another colour while the mask is made.
inline constexpr std::uint8_t other_colour = 1;

/// Within a line it becomes line, and so does the band between two sides at which a line goes under and comes out
/// (LineMask::covers); what else has that mark is no line.
void fill_inlays(LineMask& mask);

} // namespace vast_turn
