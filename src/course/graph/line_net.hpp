#pragma once

/// The lines of a surface and how they hang together: found, measured, joined over corners and gaps.

#include <vector>

#include "course/graph/line_shape.hpp"
#include "course/graph/skeleton_graph.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

/// A line between two knots.
struct Line {
    int from = -1; ///< knot; -1 for a ring without any
    int to = -1;
    LineShape shape; ///< its middle goes from knot to knot
    std::vector<Bridge> bridges;
    bool gone = false;
    bool is_whole = false; ///< its ends are where it ends

    bool ring() const { return from < 0; }
};

/// One end of a line.
struct Tip {
    std::size_t line = 0;
    bool begins = true;
};

struct LineNet {
    std::vector<Knot> knots;
    std::vector<Line> lines;
    EndIndex ends;
    std::vector<NotLine> not_lines;
    std::vector<LinePiece> spots; ///< pieces by themselves that are too short for dashes
    std::vector<Vec2> crossings;  ///< where thin strokes that hung on lines were taken off

    /// The ends of lines at a knot.
    std::vector<Tip> tips(int knot) const;
};

LineNet find_lines(const Course& course, const RouteGraphOptions& options);

} // namespace vast_turn
