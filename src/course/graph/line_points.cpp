#include "vast_turn/course/graph/line_points.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

namespace {

constexpr double along_reach_mm = 60.0;
constexpr double cell_mm = 40.0;

} // namespace

LinePoints::LinePoints(const RouteGraph& graph, double spacing_mm, double reach_mm) {
    Links links;
    Meetings at_node(graph.nodes.size());
    for (std::size_t i = 0; i < graph.stretches.size(); ++i) {
        lay(graph.stretches[i], StretchId(i), spacing_mm, links, at_node);
    }
    for (const std::vector<std::uint32_t>& meeting : at_node) {
        for (const std::uint32_t a : meeting) {
            for (const std::uint32_t b : meeting) {
                if (a != b) {
                    links[a].push_back({b, 0.0});
                }
            }
        }
    }
    find_near(links);
    find_around(reach_mm);
}

void LinePoints::lay(const Stretch& stretch, StretchId id, double spacing_mm, Links& links, Meetings& at_node) {
    const auto add = [&](Vec2 at, double along) {
        points_.push_back({at, id, along});
        links.emplace_back();
        return points_.size() - 1;
    };
    const auto join = [&](std::size_t a, std::size_t b, double way_mm) {
        links[a].push_back({static_cast<std::uint32_t>(b), way_mm});
        links[b].push_back({static_cast<std::uint32_t>(a), way_mm});
    };
    if (stretch.path.empty()) {
        return;
    }
    std::size_t last = add(stretch.path.front(), 0.0);
    at_node[stretch.from.index()].push_back(static_cast<std::uint32_t>(last));
    double along = 0.0;
    double next = spacing_mm;
    for (std::size_t i = 1; i < stretch.path.size(); ++i) {
        const Vec2 from = stretch.path[i - 1];
        const double step = length(stretch.path[i] - from);
        while (next < along + step && next < stretch.length_mm - 0.5 * spacing_mm) {
            const std::size_t point = add(from + ((next - along) / step) * (stretch.path[i] - from), next);
            join(last, point, points_[point].along_mm - points_[last].along_mm);
            last = point;
            next += spacing_mm;
        }
        along += step;
    }
    const std::size_t end = add(stretch.path.back(), along);
    join(last, end, along - points_[last].along_mm);
    at_node[stretch.to.index()].push_back(static_cast<std::uint32_t>(end));
}

/// From each point the shortest ways, by going on from the nearest found so far.
void LinePoints::find_near(const Links& links) {
    std::vector<Near> found;
    for (std::size_t first = 0; first < points_.size(); ++first) {
        found.assign(1, {static_cast<std::uint32_t>(first), 0, 0.0});
        for (std::size_t i = 0; i < found.size(); ++i) {
            const Near here = found[i];
            for (const Link& link : links[here.point]) {
                const double way = here.way_mm + link.way_mm;
                const auto known =
                    std::find_if(found.begin(), found.end(), [&](const Near& n) { return n.point == link.point; });
                if (known == found.end() && way <= along_reach_mm) {
                    found.push_back({link.point, static_cast<std::uint32_t>(found.size()), way});
                } else if (known != found.end() && way < known->way_mm) {
                    known->way_mm = way; // reached earlier by a longer way: its own links are near enough
                }
            }
        }
        std::stable_sort(found.begin(), found.end(), [](const Near& a, const Near& b) { return a.way_mm < b.way_mm; });
        first_near_.push_back(static_cast<std::uint32_t>(near_.size()));
        near_.insert(near_.end(), found.begin(), found.end());
    }
    first_near_.push_back(static_cast<std::uint32_t>(near_.size()));
}

void LinePoints::find_around(double reach_mm) {
    if (points_.empty()) {
        return;
    }
    corner_ = points_.front().at;
    Vec2 far = corner_;
    for (const Point& point : points_) {
        corner_ = {std::min(corner_.x, point.at.x), std::min(corner_.y, point.at.y)};
        far = {std::max(far.x, point.at.x), std::max(far.y, point.at.y)};
    }
    corner_ = corner_ - Vec2{reach_mm, reach_mm};
    const auto cells = [&](double size) { return static_cast<std::size_t>((size + reach_mm) / cell_mm) + 1; };
    columns_ = cells(far.x - corner_.x);
    rows_ = cells(far.y - corner_.y);
    // A point is of use to every cell that comes within reach of it.
    std::vector<std::vector<std::uint32_t>> lists(columns_ * rows_);
    for (std::size_t p = 0; p < points_.size(); ++p) {
        const Vec2 at = points_[p].at - corner_;
        const auto cell = [](double mm) { return static_cast<std::size_t>(std::max(0.0, mm / cell_mm)); };
        for (std::size_t row = cell(at.y - reach_mm); row < std::min(rows_, cell(at.y + reach_mm) + 1); ++row) {
            for (std::size_t c = cell(at.x - reach_mm); c < std::min(columns_, cell(at.x + reach_mm) + 1); ++c) {
                const double dx = std::max(
                    {0.0, static_cast<double>(c) * cell_mm - at.x, at.x - static_cast<double>(c + 1) * cell_mm});
                const double dy = std::max(
                    {0.0, static_cast<double>(row) * cell_mm - at.y, at.y - static_cast<double>(row + 1) * cell_mm});
                if (std::hypot(dx, dy) <= reach_mm) {
                    lists[row * columns_ + c].push_back(static_cast<std::uint32_t>(p));
                }
            }
        }
    }
    for (const std::vector<std::uint32_t>& list : lists) {
        first_around_.push_back(static_cast<std::uint32_t>(around_.size()));
        around_.insert(around_.end(), list.begin(), list.end());
    }
    first_around_.push_back(static_cast<std::uint32_t>(around_.size()));
}

std::span<const std::uint32_t> LinePoints::around(Vec2 at) const {
    const double x = (at.x - corner_.x) / cell_mm;
    const double y = (at.y - corner_.y) / cell_mm;
    if (!(x >= 0.0 && y >= 0.0 && x < static_cast<double>(columns_) && y < static_cast<double>(rows_))) {
        return {};
    }
    const std::size_t cell = static_cast<std::size_t>(y) * columns_ + static_cast<std::size_t>(x);
    return {around_.data() + first_around_[cell], around_.data() + first_around_[cell + 1]};
}

std::pair<double, double> nearest_along(const std::vector<Vec2>& path, Vec2 p) {
    double along = 0.0;
    std::pair<double, double> best{0.0, 1e9};
    for (std::size_t i = 1; i < path.size(); ++i) {
        const Vec2 there = nearest_on_segment(p, path[i - 1], path[i]);
        if (length(there - p) < best.second) {
            best = {along + length(there - path[i - 1]), length(there - p)};
        }
        along += length(path[i] - path[i - 1]);
    }
    return best;
}

} // namespace vast_turn
