#pragma once

/// Lines that go on as one: through corners, and over gaps.

#include "course/graph/line_net.hpp"

namespace vast_turn {

/// Joins the two lines at every knot of two.
void join_corners(LineNet& net);

/// Joins lines whose ends face each other; what is missing between is a bridge of the joint line.
void bridge_gaps(LineNet& net, const LineMask& mask, const Course& course, const RouteGraphOptions& options);

/// Notes a bridge where something of another colour lies over a line (LineMask::covers).
void note_covers(LineNet& net, const LineMask& mask, const Course& course);

} // namespace vast_turn
