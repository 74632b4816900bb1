#pragma once

/// The lines of a route graph as points, with the ways between those that are near along the lines.

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

/// Points along every stretch, and what whoever matches a path to them asks again and again. Made once for a graph; it
/// keeps nothing of it. Immutable, so any number of threads may share one.
///
///     for (const std::uint32_t point : points.around(robot_at)) {
///         for (const LinePoints::Near& other : points.near(point)) { ... }
///     }
class LinePoints {
public:
    /// Points `spacing_mm` apart. around() finds all that are within `reach_mm`.
    explicit LinePoints(const RouteGraph& graph, double spacing_mm = 10.0, double reach_mm = 111.0);

    /// How many points there are; they are numbered by stretch, then along it.
    std::size_t size() const { return points_.size(); }
    /// Where a point lies, mm.
    Vec2 at(std::size_t point) const { return points_[point].at; }
    /// On which stretch.
    StretchId stretch(std::size_t point) const { return points_[point].stretch; }
    /// How far along it from where the stretch begins, mm.
    double along(std::size_t point) const { return points_[point].along_mm; }

    /// One that is near another.
    struct Near {
        std::uint32_t point;
        std::uint32_t rank; ///< in which order it was found, nearer ones mostly first: for whoever chooses among equals
        double way_mm;      ///< along the lines
    };
    /// Those within 60 mm along the lines, itself included, by their way.
    std::span<const Near> near(std::size_t point) const {
        return {near_.data() + first_near_[point], near_.data() + first_near_[point + 1]};
    }

    /// Points in their order, all within reach of a place among them and some that are farther; none when the place
    /// is out of reach of all.
    std::span<const std::uint32_t> around(Vec2 at) const;

private:
    struct Point {
        Vec2 at;
        StretchId stretch;
        double along_mm;
    };
    struct Link {
        std::uint32_t point;
        double way_mm;
    };
    using Links = std::vector<std::vector<Link>>; // to the next points alone
    using Meetings = std::vector<std::vector<std::uint32_t>>;

    /// The points of one stretch, linked; then all that are near, by lines and by air.
    void lay(const Stretch& stretch, StretchId id, double spacing_mm, Links& links, Meetings& at_node);
    void find_near(const Links& links);
    void find_around(double reach_mm);

    /// By number.
    std::vector<Point> points_;
    /// Where the near ones of each point begin among all.
    std::vector<std::uint32_t> first_near_;
    std::vector<Near> near_;
    // A raster over the points and what is in reach of each of its cells.
    /// Its top left, as many cells to the right and down, and where each cell's points begin among all.
    Vec2 corner_;
    std::size_t columns_ = 0;
    std::size_t rows_ = 0;
    std::vector<std::uint32_t> first_around_;
    std::vector<std::uint32_t> around_;
};

} // namespace vast_turn
