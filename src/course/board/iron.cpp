#include "vast_turn/course/board/iron.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

double turned_aside_deg(const std::vector<Iron>& irons, Vec2 p) {
    constexpr double told_at_mm = 100.0;
    constexpr double nearest_mm = 30.0;
    Vec2 field{1.0, 0.0};
    for (const Iron& iron : irons) {
        const Vec2 way = iron.at - p;
        const double far = length(way);
        if (!(far > 0.0)) {
            continue;
        }
        const double part = told_at_mm / std::max(far, nearest_mm);
        field = field + (iron.strength * part * part * part / far) * way;
    }
    return to_degrees(std::atan2(-field.y, field.x)); // y points down
}

} // namespace vast_turn
