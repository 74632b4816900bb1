#pragma once

/// A course and the graph of its lines, as JSON and GeoJSON (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

/// A course: size, places, starts, tapes, markers, and the graph of its lines.
std::string course_json(const Course& course, const RouteGraph& graph);

/// The graph as GeoJSON (RFC 7946) but for its frame: coordinates are millimetres, x right, y down. Stretches are
/// LineStrings, nodes Points.
std::string route_graph_geojson(const Course& course, const RouteGraph& graph);

} // namespace vast_turn
