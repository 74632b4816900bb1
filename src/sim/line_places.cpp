#include "sim/line_places.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace vast_turn {

namespace {

constexpr double around_mm = 25.0;     // about what a line changes when another joins it
constexpr double close_mm = 12.0;      // how near another line is when the array sees it, points 10 mm apart
constexpr double branching_mm = 160.0; // how far from where they part lines may still lie side by side
constexpr std::size_t fewest_exits = 3;

/// How far from the array's middle something on a line of this width may be for the array to see it.
double room_of(const Scene& scene, const Stretch& line) {
    return scene.array_outermost_mm() + 0.5 * line.width_mm + around_mm;
}

/// Whether a line has a corner within so far of a place along it: as seen on its points, over a robot's eye's width.
bool has_corner(const Stretch& line, double along_mm, double room_mm) {
    constexpr double half_mm = 10.0;
    constexpr double least_cos = 0.82; // of 35 degrees
    const std::vector<Vec2>& path = line.path;
    std::vector<double> along(path.size(), 0.0);
    for (std::size_t i = 1; i < path.size(); ++i) {
        along[i] = along[i - 1] + length(path[i] - path[i - 1]);
    }
    const auto point_at = [&](double mm) {
        const auto after = std::upper_bound(along.begin(), along.end(), std::clamp(mm, 0.0, along.back()));
        const std::size_t to = std::min<std::size_t>(static_cast<std::size_t>(after - along.begin()), path.size() - 1);
        const std::size_t from = to > 0 ? to - 1 : 0;
        const double way = along[to] - along[from];
        const double part = way > 0.0 ? std::clamp((mm - along[from]) / way, 0.0, 1.0) : 0.0;
        return path[from] + part * (path[to] - path[from]);
    };
    const double first = std::max(half_mm, along_mm - room_mm);
    const double last = std::min(along.back() - half_mm, along_mm + room_mm);
    constexpr double step_mm = 2.0;
    const int steps = static_cast<int>(std::max(0.0, last - first) / step_mm);
    for (int i = 0; i <= steps && first <= last; ++i) {
        const double mm = first + i * step_mm;
        const Vec2 in = point_at(mm) - point_at(mm - half_mm);
        const Vec2 out = point_at(mm + half_mm) - point_at(mm);
        if (dot(in, out) < least_cos * length(in) * length(out)) {
            return true;
        }
    }
    return false;
}

} // namespace

Vec2 array_at(const Scene& scene, const LookRecord& look) {
    return from_robot(look.at, direction(static_cast<double>(look.heading_deg)), scene.array_middle());
}

bool is_plain_line(const Scene& scene, StretchId line, Vec2 array) {
    const Stretch& stretch = scene.graph().stretch(line);
    const double room = room_of(scene, stretch);
    if (stretch.widest_mm > 1.5 * stretch.narrowest_mm) {
        return false; // a pad may be part of it
    }
    const RouteGraph& graph = scene.graph();
    const bool at_node = std::any_of(graph.nodes.begin(), graph.nodes.end(),
                                     [&](const Node& node) { return length(node.at - array) < room; });
    const bool at_area = std::any_of(graph.not_lines.begin(), graph.not_lines.end(), [&](const NotLine& area) {
        const Vec2 off = area.at - array;
        return std::abs(off.x) < 0.5 * area.size_mm.x + room && std::abs(off.y) < 0.5 * area.size_mm.y + room;
    });
    const std::vector<Marker>& plates = scene.course().markers;
    return !at_node && !at_area && std::none_of(plates.begin(), plates.end(), [&](const Marker& plate) {
        return distance_to(plate, array) < room;
    });
}

LinePlace line_place(const Scene& scene, Vec2 array) {
    const RouteGraph& graph = scene.graph();
    const LinePoints& points = scene.line_points();
    const auto around = points.around(array);
    const auto away = [&](std::uint32_t point) { return length(points.at(point) - array); };
    const auto nearest =
        std::min_element(around.begin(), around.end(), [&](auto a, auto b) { return away(a) < away(b); });
    if (nearest == around.end()) {
        return LinePlace::other;
    }
    const StretchId line = points.stretch(*nearest);
    const Stretch& stretch = graph.stretch(line);
    const double room = room_of(scene, stretch);
    if (away(*nearest) > room) {
        return LinePlace::other;
    }
    const double along = points.along(*nearest);
    double other = std::numeric_limits<double>::infinity(); // how far another line is, or this one as it comes by again
    for (const std::uint32_t point : around) {
        const bool same = points.stretch(point) == line && std::abs(points.along(point) - along) < 4.0 * room;
        other = same ? other : std::min(other, away(point));
    }
    const NodeId junction = nearest_junction(graph, array);
    const bool is_at_it = junction && length(graph.node(junction).at - array) < branching_mm;
    if (is_at_it && other < room - around_mm + close_mm) {
        return LinePlace::junction;
    }
    if (plate_under(scene, array)) {
        return LinePlace::plate;
    }
    return other > room && is_plain_line(scene, line, array) && !has_corner(stretch, along, room) ? LinePlace::plain
                                                                                                  : LinePlace::other;
}

std::optional<std::size_t> plate_under(const Scene& scene, Vec2 array) {
    const std::vector<Marker>& plates = scene.course().markers;
    for (std::size_t i = 0; i < plates.size(); ++i) {
        if (distance_to(plates[i], array) < 0.5 * scene.array_outermost_mm()) {
            return i;
        }
    }
    return std::nullopt;
}

NodeId nearest_junction(const RouteGraph& graph, Vec2 at) {
    NodeId found;
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < graph.nodes.size(); ++i) {
        const double away = length(graph.nodes[i].at - at);
        if (graph.nodes[i].exits.size() >= fewest_exits && away < best) {
            best = away;
            found = NodeId(i);
        }
    }
    return found;
}

} // namespace vast_turn
