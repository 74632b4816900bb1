#include "sim/things.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

double distance_to(const Thing& thing, Vec2 p) {
    const Vec2 off = seen_from(thing, p);
    const double dx = std::max(std::abs(off.x) - 0.5 * thing.size_mm.x, 0.0);
    const double dy = std::max(std::abs(off.y) - 0.5 * thing.size_mm.y, 0.0);
    return std::sqrt(dx * dx + dy * dy);
}

std::vector<Barrier> near_by(const Course& course, const ThingsThere& things, Vec2 p, double near_mm, double t_s) {
    std::vector<Barrier> list;
    const std::vector<Thing>& boxes = things.list();
    for (std::size_t i = 0; i < boxes.size(); ++i) {
        if (distance_to(boxes[i], p) > near_mm || !things.is_there(i, t_s)) {
            continue;
        }
        const std::vector<Vec2> corners = corners_of(boxes[i]);
        for (std::size_t k = 0; k < corners.size(); ++k) {
            list.push_back({corners[k], corners[(k + 1) % corners.size()], i});
        }
    }
    for (std::size_t i = 0; i < course.walls.size(); ++i) {
        const Wall& wall = course.walls[i];
        if (length(p - nearest_on_segment(p, wall.from, wall.to)) <= near_mm) {
            list.push_back({wall.from, wall.to, boxes.size() + i});
        }
    }
    return list;
}

double ThingsThere::watch(std::size_t thing, double distance_mm, double t_s) {
    const Thing& what = (*things_)[thing];
    double room = std::numeric_limits<double>::infinity();
    const auto note = [&](const std::optional<double>& near_mm, std::optional<double>& came_s) {
        if (!near_mm || came_s) {
            return;
        }
        if (distance_mm <= *near_mm) {
            came_s = t_s;
        } else {
            room = std::min(room, distance_mm - *near_mm);
        }
    };
    note(what.appears_mm, came_[thing].to_appear_s);
    note(what.goes_mm, came_[thing].to_go_s);
    return room;
}

bool ThingsThere::is_there(std::size_t thing, double t_s) const {
    const Thing& what = (*things_)[thing];
    const Came& came = came_[thing];
    if (none_ || (what.appears_mm ? !came.to_appear_s : t_s < what.from_s + (what.from_s > 0.0 ? later_s_ : 0.0))) {
        return false;
    }
    if (what.goes_mm) {
        return !came.to_go_s || t_s < *came.to_go_s + what.stays_s.value_or(0.0);
    }
    if (what.appears_mm && what.stays_s) {
        return t_s < *came.to_appear_s + *what.stays_s;
    }
    return !what.until_s || t_s < *what.until_s + later_s_;
}

} // namespace vast_turn
