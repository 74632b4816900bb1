#pragma once

/// Courses as other people draw them, with what is true of them: lines of all kinds, and what is no line.

#include <cstdint>
#include <limits>
#include <string>
#include <vector>

#include "vast_turn/course/graph/route_graph.hpp"

namespace fixtures {

struct TrueNode {
    vast_turn::Vec2 at;
    int degree = 1;
};

struct TrueGap {
    vast_turn::Vec2 middle; ///< on the line
    double length_mm = 0.0; ///< along it
};

/// A line between two nodes, or one that closes on itself.
struct TrueLine {
    int from = -1;
    int to = -1;
    double length_mm = 0.0;
    double tightest_mm = std::numeric_limits<double>::infinity();
    std::vector<TrueGap> gaps;
};

struct MixedCourse {
    std::string svg;   ///< the drawing
    std::string sheet; ///< the course file beside it, which names it "d.svg"
    std::string kinds; ///< of what it is mixed
    double width_mm = 0.0;
    vast_turn::Vec2 board_mm;
    std::vector<TrueNode> nodes;
    std::vector<TrueLine> lines;
    std::vector<vast_turn::Vec2> plates;
};

/// The same seed gives the same course. With the name of a kind of line ("tangent", "bent gap", ...) of that alone.
MixedCourse mixed_course(std::uint32_t seed, const std::string& kind = {});

/// The point so far along a polyline.
vast_turn::Vec2 at_length(const std::vector<vast_turn::Vec2>& points, double mm);

} // namespace fixtures
