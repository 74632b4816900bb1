#pragma once

/// Where a line goes that a dark area touches or covers.

#include <vector>

#include "course/graph/line_mask.hpp"

namespace vast_turn {

/// The middle of a line where it comes to an area.
struct LineMouth {
    Vec2 at;
    Vec2 along; ///< into the area, of length 1; zero where that is not known
};

/// Where the line leads from where it touches an area, of the points that make it up there, some three widths round:
/// one mouth where it ends at the area, two where it only passes it; never none.
std::vector<LineMouth> lines_round(Vec2 touching, const std::vector<Vec2>& points, double width_mm);

/// The middle of the line between two mouths, about 1 mm apart: by a curve that leaves both as the line comes to them,
/// and half a width from the floor where that lies on one side of it, as along an area inside a bend.
std::vector<Vec2> way_past_area(const LineMask& mask, const LineMouth& from, const LineMouth& to, double width_mm);

} // namespace vast_turn
