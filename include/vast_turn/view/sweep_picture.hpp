#pragma once

/// What a sweep came to, drawn.

#include <string>
#include <vector>

#include "vast_turn/sweep/sweep.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// What is told beside the points.
struct SweepWords {
    std::string title; ///< the course, the robot, the plan
    double sure = 0.9; ///< points that hold in at least this share of runs for sure are outlined, or filled dots
};

/// The share of runs that pass: over one axis as dots with their bounds, the time of those that passed below; over two
/// axes of a grid a map of cells, a fill as dots of their colour. Of more axes the first two are drawn, points at the
/// values in which the others are at their best; of those the most that pass. The points must be those of the axes.
std::string draw_sweep(const std::vector<Axis>& axes, const std::vector<SweepPoint>& points, const SweepWords& words,
                       PictureFormat format);

} // namespace vast_turn
