#pragma once

/// A sweep as JSON and as CSV; docs/files.md has the forms.

#include <string>
#include <vector>

#include "vast_turn/sweep/sweep.hpp"

namespace vast_turn {

/// Axes, points with their shares, bounds and figures, and the fastest that is sure. `layouts`: on how many layouts of
/// a shuffled course it was driven; 0 of any other.
std::string sweep_json(const std::vector<Axis>& axes, const std::vector<SweepPoint>& points, double sure,
                       std::size_t layouts = 0);

/// A row a point: the axes' values, then runs, passed, share_low, share_high, time_s, time_deviation_s, steering_pct,
/// refused.
std::string sweep_csv(const std::vector<Axis>& axes, const std::vector<SweepPoint>& points);

} // namespace vast_turn
