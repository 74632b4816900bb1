#pragma once

#include <nlohmann/json.hpp>

#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

/// Nodes and stretches, as part of a course's JSON.
nlohmann::ordered_json route_graph_object(const Course& course, const RouteGraph& graph);

} // namespace vast_turn
