#include "sim/outline.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

Outline::Outline(const Robot& robot) : corners_(robot.outline_mm), reach_(0.5 * robot.track_mm) {
    if (!corners_.empty()) {
        reach_ = 0.0;
        for (const Vec2 corner : corners_) {
            reach_ = std::max(reach_, length(corner));
        }
    }
}

/// Even-odd rule.
bool Outline::holds(Vec2 p) const {
    bool inside = false;
    for (std::size_t i = 0, j = corners_.size() - 1; i < corners_.size(); j = i++) {
        const Vec2 a = corners_[i];
        const Vec2 b = corners_[j];
        if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x) {
            inside = !inside;
        }
    }
    return inside;
}

void Outline::meet(const Body& body, const Barrier& barrier, double near_mm, std::vector<Meeting>& out) const {
    const Vec2 nearest = nearest_on_segment(body.at, barrier.from, barrier.to);
    const Vec2 to_middle = body.at - nearest;
    const double distance = length(to_middle);
    if (distance > reach_ + near_mm || !(distance > 0.0)) {
        return;
    }
    if (is_disc()) {
        out.push_back({nearest, 1.0 / distance * to_middle, distance - reach_, barrier.what});
        return;
    }
    // A corner of the robot at the barrier; it has gone through when that lies between the corner and the middle ...
    for (const Vec2 corner : corners_) {
        const Vec2 v = from_robot(body.at, body.ahead, corner);
        const Vec2 on = nearest_on_segment(v, barrier.from, barrier.to);
        const Vec2 off = v - on;
        const double side = segments_cross(body.at, v, barrier.from, barrier.to) ? -1.0 : 1.0;
        const double gap = length(off);
        if (side * gap <= near_mm && gap > 0.0) {
            out.push_back({on, side / gap * off, side * gap, barrier.what});
        }
    }
    // ... or an end of the barrier at a side of the robot.
    for (const Vec2 end : {barrier.from, barrier.to}) {
        const Vec2 p = into_robot(body.ahead, end - body.at);
        Vec2 on;
        double gap = std::numeric_limits<double>::infinity();
        for (std::size_t i = 0, j = corners_.size() - 1; i < corners_.size(); j = i++) {
            const Vec2 q = nearest_on_segment(p, corners_[j], corners_[i]);
            if (length(q - p) < gap) {
                gap = length(q - p);
                on = q;
            }
        }
        const double side = holds(p) ? -1.0 : 1.0;
        if (side * gap > near_mm || !(gap > 0.0)) {
            continue;
        }
        const Vec2 away = side / gap * (on - p);
        out.push_back({end, from_robot({}, body.ahead, away), side * gap, barrier.what});
    }
}

} // namespace vast_turn
