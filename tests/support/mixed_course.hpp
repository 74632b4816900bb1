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
    std::vector<TrueNode> nodes;
    std::vector<TrueLine> lines;
    std::vector<vast_turn::Vec2> plates;
};

/// The same seed gives the same course. With the name of a kind of line ("tangent", "bent gap", ...) of that alone.
MixedCourse mixed_course(std::uint32_t seed, const std::string& kind = {});

/// How often what was found is what is there.
struct MapRates {
    struct Rate {
        int all = 0;
        int right = 0;
    };
    Rate nodes;   ///< found within 5 mm, with their degree
    Rate found;   ///< found nodes that are there
    Rate lengths; ///< between their nodes within 2 %
    Rate gaps;    ///< within 3 mm, place and length
    Rate plates;  ///< within 3 mm
    Rate bends;   ///< radius within 10 %

    void add(const MapRates& other);
    std::string text() const;
};

/// What of a course was found. `told` gets a line for each thing that is not right.
MapRates compare(const MixedCourse& truth, const vast_turn::Course& course, const vast_turn::RouteGraph& graph,
                 std::vector<std::string>* told = nullptr);

} // namespace fixtures
