#pragma once

/// Where only one rim of a line is its own.

#include <vector>

#include "course/graph/crossing_map.hpp"
#include "course/graph/line_shape.hpp"

namespace vast_turn {

/// Puts the middle of a line half its usual width from the rim that is its own beside a dark area that was taken off it
/// (LineMask::off). `rims` are those seen from the points before they were moved, `rough`. Widths there become the
/// usual one.
void follow_own_rim(const LineMask& mask, const std::vector<Vec2>& rough, const std::vector<Rims>& rims,
                    LineShape& shape);

/// Whether a line's ends are where it ends, and no junctions.
struct LooseEnds {
    bool begin = false;
    bool end = false;
};

/// The same at blots that hang on one side of a line, smaller than what is taken off: which rim is its own is told by
/// how smoothly it goes on along it. `middle` is all of a line from one junction or end to the other.
/// `crossings` are places at which thin strokes were taken off, and those of plates: there it is looked at closely, and
/// a line that seems narrower for the blurred rim of a plate goes on by the curve from before it to behind it.
void pass_by_blots(const LineMask& mask, const CrossingMap& crossings, std::vector<Vec2>& middle, double usual_width_mm,
                   LooseEnds loose);

} // namespace vast_turn
