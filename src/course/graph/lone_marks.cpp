#include "course/graph/lone_marks.hpp"

#include <algorithm>
#include <vector>

#include "course/graph/line_judge.hpp"
#include "course/graph/line_shape.hpp"
#include "course/graph/skeleton_graph.hpp"

namespace vast_turn {

namespace {

/// An open end of a line, and where it points.
struct Pointing {
    std::size_t line = 0;
    Vec2 at;
    Vec2 outwards; ///< of length 1
};

class MarkFinder {
public:
    MarkFinder(LineNet& net, const LineMask& mask, const Course& course) : net_(net), mask_(mask), course_(course) {}

    void run() {
        double longest = 0.0;
        for (const Line& line : net_.lines) {
            const double widths = line.gone ? 0.0 : length_of(line.shape.middle) / width_of(line);
            usual_mm_ = widths > longest ? width_of(line) : usual_mm_;
            longest = std::max(longest, widths);
        }
        constexpr double is_line = 12.0; // widths
        if (longest < is_line) {
            return;
        }
        find_ends();
        std::vector<std::size_t> marks;
        for (std::size_t i = 0; i < net_.lines.size(); ++i) {
            if (is_short(net_.lines[i]) && !is_wanted(net_.lines[i]) && !lies_in_a_gap(i)) {
                marks.push_back(i);
            }
        }
        for (const std::size_t i : marks) {
            take_out(net_.lines[i]);
        }
        for (const LinePiece& spot : net_.spots) {
            tell(spot);
        }
    }

private:
    static double width_of(const Line& line) { return std::max(1.0, line.shape.usual_width_mm); }

    bool is_loose(int knot) const { return net_.tips(knot).size() == 1; }

    bool is_short(const Line& line) const {
        constexpr double few = 3.2; // widths
        return !line.gone && !line.ring() && line.bridges.empty() && is_loose(line.from) && is_loose(line.to) &&
               length_of(line.shape.middle) < few * width_of(line);
    }

    PointBox box_of(const Line& line) const {
        PointBox box;
        const Vec2 d = line.shape.middle.back() - line.shape.middle.front();
        const Vec2 across = 0.5 * width_of(line) / std::max(1e-9, length(d)) * Vec2{-d.y, d.x};
        for (const Vec2 p : line.shape.middle) {
            box.add(p - across);
            box.add(p + across);
        }
        return box;
    }

    /// Something says that it is there to be driven.
    bool is_wanted(const Line& line) const {
        const PointBox box = box_of(line);
        constexpr double edge_mm = 2.0;
        const bool at_edge = box.low.x < edge_mm || box.low.y < edge_mm || box.high.x > course_.width_mm - edge_mm ||
                             box.high.y > course_.height_mm - edge_mm;
        const Vec2 middle = line.shape.middle[line.shape.middle.size() / 2];
        const double reach = length_of(line.shape.middle);
        const bool begins = std::any_of(course_.starts.begin(), course_.starts.end(),
                                        [&](const StartPose& start) { return length(start.pose.at - middle) < reach; });
        const bool has_plate = std::any_of(course_.markers.begin(), course_.markers.end(),
                                           [&](const Marker& marker) { return distance_to(marker, middle) < reach; });
        return at_edge || begins || has_plate || box.meets_any(course_.line_hints.take_in);
    }

    void find_ends() {
        for (std::size_t i = 0; i < net_.lines.size(); ++i) {
            const Line& line = net_.lines[i];
            const std::vector<Vec2>& middle = line.shape.middle;
            if (line.gone || line.ring() || middle.size() < 2) {
                continue;
            }
            const std::size_t back = std::min<std::size_t>(middle.size() - 1, 6);
            if (is_loose(line.from)) {
                add(i, middle.front(), middle[back]);
            }
            if (is_loose(line.to)) {
                add(i, middle.back(), middle[middle.size() - 1 - back]);
            }
        }
    }

    void add(std::size_t line, Vec2 at, Vec2 from) {
        const Vec2 d = at - from;
        ends_.push_back({line, at, 1.0 / std::max(1e-9, length(d)) * d});
    }

    /// One of its ends and another line's point at each other over floor, as dashes do that lie too far apart.
    bool lies_in_a_gap(std::size_t number) const {
        constexpr double reach_mm = 400.0;
        constexpr double straight = 0.94; // cosine of 20 degrees
        const auto [first, behind] =
            std::equal_range(ends_.begin(), ends_.end(), Pointing{number, {}, {}},
                             [](const Pointing& a, const Pointing& b) { return a.line < b.line; });
        return std::any_of(first, behind, [&](const Pointing& own) {
            return std::any_of(ends_.begin(), ends_.end(), [&](const Pointing& other) {
                const Vec2 d = other.at - own.at;
                const double way = length(d);
                return other.line != number && way > 0.0 && way < reach_mm && dot(d, own.outwards) > straight * way &&
                       dot(d, other.outwards) < -straight * way && is_free(mask_, own.at, other.at);
            });
        });
    }

    /// What is no dash, as wide as lines are.
    void tell(const LinePiece& spot) {
        constexpr double wide = 0.6;
        const Vec2 half = 0.5 * spot.length_mm * spot.along;
        const Vec2 across = 0.5 * spot.width_mm * Vec2{-spot.along.y, spot.along.x};
        PointBox box;
        for (const Vec2 corner : {half + across, half - across, across - half, -1.0 * half - across}) {
            box.add(spot.middle + corner);
        }
        if (spot.width_mm >= wide * usual_mm_ && !box.meets_any(course_.line_hints.take_in)) {
            net_.not_lines.push_back(not_line(NotLineKind::mark, box));
        }
    }

    void take_out(Line& line) {
        line.gone = true;
        net_.not_lines.push_back(not_line(NotLineKind::mark, box_of(line)));
    }

    LineNet& net_;
    const LineMask& mask_;
    const Course& course_;
    std::vector<Pointing> ends_; ///< in the order of the lines
    double usual_mm_ = 0.0;      ///< width of the longest line
};

} // namespace

void take_out_lone_marks(LineNet& net, const LineMask& mask, const Course& course) {
    MarkFinder(net, mask, course).run();
}

} // namespace vast_turn
