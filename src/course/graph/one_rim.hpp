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

/// What lies on lines or lay there.
struct PlacesOnLines {
    const CrossingMap& crossings; ///< where thin strokes were taken off
    const CrossingMap& plates;    ///< their middles, and where lines go under them
};

/// The same at blots that hang on one side of a line, smaller than what is taken off: which rim is its own is told by
/// how smoothly it goes on along it. `middle` is all of a line from one junction or end to the other.
/// Where thin strokes were taken off it is looked at closely; at plates a line that seems narrower for their blurred
/// rims goes on by the curve from before it to behind it.
void pass_by_blots(const LineMask& mask, const PlacesOnLines& places, std::vector<Vec2>& middle, double usual_width_mm,
                   LooseEnds loose);

} // namespace vast_turn
