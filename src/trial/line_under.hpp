#pragma once

/// The line that a robot stands on.

#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

/// The nearest stretch to a pose, and whether it looks along it.
struct OnLine {
    StretchId stretch; ///< none when no line is within 90 mm
    bool forward = true;
    double along_mm = 0.0; ///< from where the stretch begins
};

OnLine line_under(const RouteGraph& graph, const Pose& pose);

} // namespace vast_turn
