#pragma once

/// What lies along the lines of a course that a robot may fail at: bends, gaps, plates.

#include <string>
#include <vector>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn::vetting {

struct WayMark {
    enum class Kind : std::uint8_t { bend, gap, plate };
    Kind kind = Kind::bend;
    StretchId stretch;
    double from_mm = 0.0; ///< along the stretch
    double to_mm = 0.0;   ///< of a gap at the stretch's end: behind it
    Vec2 at;              ///< its tightest place, or its middle
    double radius_mm = 0.0;
    double turn_deg = 0.0; ///< by how much a bend turns in all
    std::size_t plate = 0; ///< its number in the course
    std::string colour{};  ///< of a plate
    StretchId beyond;      ///< where the line goes on behind a gap: the same stretch, or the one of the end that faces
    bool only_forward = false; ///< a gap between two ends: there is one mark for each way
    bool only_backward = false;
    bool covers_line = false; ///< a plate under which the line is not seen
};

/// By stretch, then along it. Bends are pieces that turn by 12 degrees or more on a radius of less than 800 mm; a gap
/// is a bridge of the graph, or two ends up to 400 mm apart that face each other.
std::vector<WayMark> find_way_marks(const Course& course, const RouteGraph& graph);

} // namespace vast_turn::vetting
