#pragma once

/// Holes in lines, as dots on junctions, scratches and glare leave them.

#include "course/graph/line_mask.hpp"

namespace vast_turn {

/// What is floor with line all round becomes line where it lies within one: the largest circle round it that holds no
/// other floor is about as wide as the lines that leave it, and line is thinner beside it than those. Floor between
/// lines, as in a roundabout, stays.
void fill_holes(LineMask& mask);

} // namespace vast_turn
