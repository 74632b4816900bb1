#include "trial/line_points.hpp"

#include <algorithm>

namespace vast_turn {

namespace {

constexpr double reach_mm = 60.0;

} // namespace

LinePoints::LinePoints(const RouteGraph& graph, double spacing_mm) : at_node_(graph.nodes.size()) {
    for (std::size_t i = 0; i < graph.stretches.size(); ++i) {
        lay(graph.stretches[i], static_cast<int>(i), spacing_mm);
    }
    for (const std::vector<std::uint32_t>& meeting : at_node_) {
        for (const std::uint32_t a : meeting) {
            for (const std::uint32_t b : meeting) {
                if (a != b) {
                    links_[a].push_back({b, 0.0});
                }
            }
        }
    }
    find_near();
}

void LinePoints::lay(const Stretch& stretch, int number, double spacing_mm) {
    const auto add = [&](Vec2 at, double along) {
        points_.push_back({at, number, along});
        links_.emplace_back();
        return points_.size() - 1;
    };
    if (stretch.path.empty()) {
        return;
    }
    std::size_t last = add(stretch.path.front(), 0.0);
    at_node_[static_cast<std::size_t>(stretch.from)].push_back(static_cast<std::uint32_t>(last));
    double along = 0.0;
    double next = spacing_mm;
    for (std::size_t i = 1; i < stretch.path.size(); ++i) {
        const Vec2 from = stretch.path[i - 1];
        const double step = length(stretch.path[i] - from);
        while (next < along + step && next < stretch.length_mm - 0.5 * spacing_mm) {
            const std::size_t point = add(from + ((next - along) / step) * (stretch.path[i] - from), next);
            link(last, point, points_[point].along_mm - points_[last].along_mm);
            last = point;
            next += spacing_mm;
        }
        along += step;
    }
    const std::size_t end = add(stretch.path.back(), along);
    link(last, end, along - points_[last].along_mm);
    at_node_[static_cast<std::size_t>(stretch.to)].push_back(static_cast<std::uint32_t>(end));
}

void LinePoints::link(std::size_t a, std::size_t b, double way_mm) {
    links_[a].push_back({static_cast<std::uint32_t>(b), way_mm});
    links_[b].push_back({static_cast<std::uint32_t>(a), way_mm});
}

/// From each point the shortest ways, by going on from the nearest found so far.
void LinePoints::find_near() {
    near_.resize(points_.size());
    for (std::size_t first = 0; first < points_.size(); ++first) {
        std::vector<Near>& found = near_[first];
        found.push_back({static_cast<std::uint32_t>(first), 0.0});
        for (std::size_t i = 0; i < found.size(); ++i) {
            const Near here = found[i];
            for (const Near& link : links_[here.point]) {
                const double way = here.way_mm + link.way_mm;
                const auto known =
                    std::find_if(found.begin(), found.end(), [&](const Near& n) { return n.point == link.point; });
                if (known == found.end() && way <= reach_mm) {
                    found.push_back({link.point, way});
                } else if (known != found.end() && way < known->way_mm) {
                    known->way_mm = way; // reached earlier by a longer way: its own links are near enough
                }
            }
        }
    }
}

} // namespace vast_turn
