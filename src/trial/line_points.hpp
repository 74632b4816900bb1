#pragma once

/// The lines of a route graph as points, with the ways between those that are near along the lines.

#include <cstdint>
#include <vector>

#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

class LinePoints {
public:
    LinePoints(const RouteGraph& graph, double spacing_mm);

    std::size_t size() const { return points_.size(); }
    Vec2 at(std::size_t point) const { return points_[point].at; }
    int stretch(std::size_t point) const { return points_[point].stretch; }
    double along(std::size_t point) const { return points_[point].along_mm; }

    struct Near {
        std::uint32_t point;
        double way_mm; ///< along the lines
    };
    /// Those within 60 mm along the lines, itself included.
    const std::vector<Near>& near(std::size_t point) const { return near_[point]; }

private:
    struct Point {
        Vec2 at;
        int stretch;
        double along_mm;
    };
    void lay(const Stretch& stretch, int number, double spacing_mm);
    void link(std::size_t a, std::size_t b, double way_mm);
    void find_near();

    std::vector<Point> points_;
    std::vector<std::vector<Near>> links_; ///< to the next points alone
    std::vector<std::vector<Near>> near_;
    std::vector<std::vector<std::uint32_t>> at_node_; ///< the points that lie on each node, one a stretch's end
};

} // namespace vast_turn
