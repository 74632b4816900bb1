#pragma once

/// Ways along the lines of a course.

#include <vector>

#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

/// The shortest way along the lines (bridges included) between the points of the lines nearest to two given points, as
/// a polyline in the course frame, mm, its points about 2 mm apart; empty when the lines do not join them. Turning back
/// on the way is allowed at nodes only. Dijkstra's algorithm over the nodes.
std::vector<Vec2> way_along_lines(const RouteGraph& graph, Vec2 from, Vec2 to);

} // namespace vast_turn
