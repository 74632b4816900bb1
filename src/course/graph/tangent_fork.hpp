#pragma once

/// Forks at which a line leaves another one without a corner.

#include <optional>
#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// The point at which an arc and a straight line touch, of three arms that come to a fork: where the tapes part lies
/// far behind it. Each arm as points outwards from where it is by itself; `width_mm` is that of the lines. Nothing when
/// the arms are no straight line and arcs that touch it, or two straight lines and one.
std::optional<Vec2> tangent_point(const std::vector<std::vector<Vec2>>& arms, double width_mm);

} // namespace vast_turn
