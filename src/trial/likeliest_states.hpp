#pragma once

/// The likeliest way of a path along lines.

#include <cstddef>
#include <vector>

#include "vast_turn/course/graph/line_points.hpp"
#include "vast_turn/trial/matched_route.hpp"

namespace vast_turn {

/// For each point of a path the line point that it belongs to, or points.size() when it is off every line: the
/// cheapest sequence by Viterbi's algorithm over the model that match_route() describes. Of sequences that cost the
/// same the one is taken whose points come first. The path and the points must not be empty (asserted).
std::vector<std::size_t> likeliest_states(const LinePoints& points, const std::vector<PathPoint>& path, double off_mm);

} // namespace vast_turn
