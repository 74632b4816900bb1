#pragma once

/// The box round points.

#include <algorithm>
#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

struct PointBox {
    Vec2 low{1e9, 1e9};
    Vec2 high{-1e9, -1e9};

    void add(Vec2 p) {
        low = {std::min(low.x, p.x), std::min(low.y, p.y)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y)};
    }

    Vec2 middle() const { return 0.5 * (low + high); }
    Vec2 size() const { return high - low; }
    double longer_side() const { return std::max(high.x - low.x, high.y - low.y); }

    bool meets_any(const std::vector<Area>& areas) const {
        return std::any_of(areas.begin(), areas.end(), [&](const Area& area) {
            return high.x >= area.from.x && low.x <= area.to.x && high.y >= area.from.y && low.y <= area.to.y;
        });
    }
};

} // namespace vast_turn
