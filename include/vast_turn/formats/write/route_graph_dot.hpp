#pragma once

/// The graph of a course in the language of Graphviz (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

/// The graph in Graphviz' language; nodes have the position where they lie.
std::string route_graph_dot(const Course& course, const RouteGraph& graph);

} // namespace vast_turn
