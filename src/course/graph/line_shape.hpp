#pragma once

/// The exact middle and width of a line, from a rough one.

#include <cstddef>
#include <optional>
#include <utility>
#include <vector>

#include "course/graph/line_mask.hpp"

namespace vast_turn {

struct LineShape {
    std::vector<Vec2> middle;     ///< about 2 mm apart
    std::vector<double> width_mm; ///< at each point, across the line
    double usual_width_mm = 0.0;  ///< median
};

/// How far both rims are from a point of a line's middle, mm.
struct Rims {
    Vec2 across;      ///< of length 1, to the first of them
    double one = 0.0; ///< that way, at most 80
    double other = 0.0;
};

/// Across the way of points about 2 mm apart; of a closed one the last is the first.
Rims rims_at(const LineMask& mask, const std::vector<Vec2>& middle, std::size_t i, bool closed);

/// Smooths a skeleton's path and moves each point to the middle of the profile across.
LineShape measured(const LineMask& mask, const std::vector<Vec2>& rough, bool closed);

/// Cells of a mask that hang together, as a rectangle with the same moments.
struct LinePiece {
    Vec2 middle;
    Vec2 along; ///< of length 1
    double length_mm = 0.0;
    double width_mm = 0.0;
    double bow = 0.0; ///< of its middle line, 1/mm: at s mm along it lies bow s^2 to the right, but for a constant
};

/// The piece at a point; nothing when it reaches farther than `reach_mm` from there.
std::optional<LinePiece> piece_at(const LineMask& mask, Vec2 at, double reach_mm);

/// A cubic from a point to another with these derivatives there, at 0..1 (Hermite's).
Vec2 cubic_at(double t, Vec2 from, Vec2 leaves, Vec2 to, Vec2 arrives);

/// The value in the middle of a list, by size; 0 of none.
double median(std::vector<double> list);

/// Points about `step` apart along a polyline, both ends kept.
std::vector<Vec2> resampled(const std::vector<Vec2>& points, double step);

/// How far along a path the point of it is that is nearest to another, mm, and how near.
std::pair<double, double> nearest_along(const std::vector<Vec2>& path, Vec2 p);

/// Whether nothing but floor lies between two ends of lines, but for less than 3 mm of line.
bool is_free(const LineMask& mask, Vec2 from, Vec2 to);

/// How far the line still goes from a point in a direction, at most `most`.
double way_to_rim(const LineMask& mask, Vec2 from, Vec2 along, double most);

} // namespace vast_turn
