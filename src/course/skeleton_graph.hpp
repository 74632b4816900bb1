#pragma once

/// The skeleton as nodes and branches, not yet refined.

#include <vector>

#include "course/thinning.hpp"

namespace vast_turn {

struct Branch {
    int from = -1; ///< node; -1 when it closes on itself without any
    int to = -1;
    std::vector<Vec2> points; ///< from node to node, a cell apart
    double mean_half_width_mm = 0.0;
    bool gone = false;
};

struct Knot {
    Vec2 at;
    double half_width_mm = 0.0; ///< of the line there
    bool corner = false;        ///< a spur was taken off
};

struct SkeletonGraph {
    std::vector<Knot> knots;
    std::vector<Branch> branches;

    int degree(int knot) const;
};

/// Traces the skeleton, takes off the spurs that thinning leaves at corners and square ends, and joins what went
/// through a knot of two.
SkeletonGraph trace(const LineMask& mask, const Skeleton& skeleton);

/// Joins branches through knots that only two of them meet in; corners stay.
void join_through(SkeletonGraph& graph);

double length_of(const std::vector<Vec2>& points);

} // namespace vast_turn
