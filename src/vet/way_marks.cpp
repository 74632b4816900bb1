#include "vet/way_marks.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace vast_turn::vetting {

namespace {

constexpr double window_mm = 30.0;  // over which a bend is measured, as the graph does
constexpr double widest_mm = 800.0; // of the radius of what is called a bend
constexpr double least_turn_deg = 12.0;
constexpr double longest_gap_mm = 400.0;
constexpr double out_of_line_deg = 20.0;

class MarkFinder {
public:
    MarkFinder(const Course& course, const RouteGraph& graph) : course_(course), graph_(graph) {}

    std::vector<WayMark> run() {
        for (std::size_t s = 0; s < graph_.stretches.size(); ++s) {
            id_ = StretchId(s);
            measure();
            bends();
            bridges();
            plates();
        }
        facing_ends();
        std::stable_sort(marks_.begin(), marks_.end(), [](const WayMark& a, const WayMark& b) {
            return a.stretch == b.stretch ? a.from_mm < b.from_mm : a.stretch < b.stretch;
        });
        return std::move(marks_);
    }

private:
    const Stretch& stretch() const { return graph_.stretch(id_); }

    void measure() {
        const std::vector<Vec2>& path = stretch().path;
        along_.assign(path.size(), 0.0);
        for (std::size_t i = 1; i < path.size(); ++i) {
            along_[i] = along_[i - 1] + length(path[i] - path[i - 1]);
        }
    }

    Vec2 at(double along) const {
        const std::vector<Vec2>& path = stretch().path;
        const auto upper = std::upper_bound(along_.begin(), along_.end(), along);
        const auto i = static_cast<std::size_t>(std::max<std::ptrdiff_t>(1, upper - along_.begin()));
        if (i >= path.size()) {
            return path.back();
        }
        const double part = (along - along_[i - 1]) / std::max(1e-9, along_[i] - along_[i - 1]);
        return path[i - 1] + std::clamp(part, 0.0, 1.0) * (path[i] - path[i - 1]);
    }

    /// By how much the line turns over the window about a place, degrees; left is positive.
    double turn_at(double along) const {
        const double half = 0.5 * window_mm;
        const Vec2 before = at(along) - at(along - half);
        const Vec2 after = at(along + half) - at(along);
        return to_degrees(std::atan2(-cross(before, after), dot(before, after)));
    }

    void bends() {
        const double whole = along_.back();
        const double least = to_degrees(0.5 * window_mm / widest_mm); // chords of half a window turn by half as much
        constexpr double step_mm = 3.0;
        std::vector<double> turns;
        const auto steps = static_cast<int>(std::max(0.0, whole - window_mm) / step_mm);
        for (int i = 0; i <= steps; ++i) {
            turns.push_back(turn_at(0.5 * window_mm + i * step_mm));
        }
        std::size_t i = 0;
        while (i < turns.size()) {
            if (std::abs(turns[i]) < least) {
                ++i;
                continue;
            }
            const std::size_t first = i;
            double sum = 0.0;
            std::size_t tightest = i;
            while (i < turns.size() && std::abs(turns[i]) >= least && turns[i] * turns[first] > 0.0) {
                sum += turns[i];
                tightest = std::abs(turns[i]) > std::abs(turns[tightest]) ? i : tightest;
                ++i;
            }
            // Each place is turned about half a window ahead of it and behind: so what was summed is the turn times
            // half a window a step.
            const double turn = std::abs(sum) * step_mm / (0.5 * window_mm);
            if (turn >= least_turn_deg) {
                const auto along = [](std::size_t k) { return 0.5 * window_mm + step_mm * static_cast<double>(k); };
                add_bend(along(first), along(i - 1), along(tightest), std::abs(turns[tightest]), turn);
            }
        }
    }

    void add_bend(double from, double to, double tightest, double sharpest_deg, double turn) {
        WayMark mark;
        mark.stretch = mark.beyond = id_;
        mark.from_mm = from;
        mark.to_mm = to;
        mark.at = at(tightest);
        mark.radius_mm = 0.5 * window_mm / std::max(1e-6, to_radians(sharpest_deg));
        mark.turn_deg = std::min(turn, 360.0);
        marks_.push_back(mark);
    }

    void bridges() {
        for (const Bridge& bridge : stretch().bridges) {
            if (!bridge.marker.empty()) {
                continue;
            }
            WayMark mark;
            mark.kind = WayMark::Kind::gap;
            mark.stretch = mark.beyond = id_;
            mark.from_mm = bridge.from_mm;
            mark.to_mm = bridge.from_mm + bridge.length_mm;
            mark.at = at(bridge.from_mm + 0.5 * bridge.length_mm);
            marks_.push_back(mark);
        }
    }

    void plates() {
        for (const int number : stretch().markers) {
            const Marker& marker = course_.markers[static_cast<std::size_t>(number)];
            double nearest = 0.0;
            double best = std::numeric_limits<double>::infinity();
            const std::vector<Vec2>& path = stretch().path;
            for (std::size_t i = 0; i < path.size(); ++i) {
                if (length(path[i] - marker.at) < best) {
                    best = length(path[i] - marker.at);
                    nearest = along_[i];
                }
            }
            WayMark mark;
            mark.kind = WayMark::Kind::plate;
            mark.stretch = mark.beyond = id_;
            const double half = 0.5 * along_line(marker, at(nearest + 4.0) - at(nearest - 4.0));
            mark.from_mm = nearest - half;
            mark.to_mm = nearest + half;
            mark.at = marker.at;
            mark.plate = static_cast<std::size_t>(number);
            mark.colour = marker.colour;
            mark.covers_line =
                std::any_of(stretch().bridges.begin(), stretch().bridges.end(), [&](const Bridge& bridge) {
                    return bridge.marker == marker.colour && bridge.from_mm < mark.to_mm &&
                           bridge.from_mm + bridge.length_mm > mark.from_mm && !ends_there(bridge);
                });
            marks_.push_back(mark);
        }
    }

    /// Whether the line ends just behind: who loses it there is at its end.
    bool ends_there(const Bridge& bridge) const {
        constexpr double just_mm = 25.0;
        const bool at_from = graph_.node(stretch().from).kind == NodeKind::end && bridge.from_mm < just_mm;
        const bool at_to = graph_.node(stretch().to).kind == NodeKind::end &&
                           bridge.from_mm + bridge.length_mm > along_.back() - just_mm;
        return at_from || at_to;
    }

    static double along_line(const Marker& marker, Vec2 way) {
        const Vec2 ahead = direction(marker.heading_deg);
        const double size = std::max(1e-9, length(way));
        const double cos = std::abs(dot(way, ahead)) / size;
        const double sin = std::abs(cross(way, ahead)) / size;
        return std::min(marker.length_mm / std::max(cos, 1e-9), marker.across_mm / std::max(sin, 1e-9));
    }

    struct End {
        StretchId stretch;
        bool at_end = true; ///< of the stretch; else where it begins
        Vec2 at;
        Vec2 out; ///< the way that the line leaves by
    };

    void facing_ends() {
        std::vector<End> ends;
        for (std::size_t s = 0; s < graph_.stretches.size(); ++s) {
            const Stretch& line = graph_.stretches[s];
            const std::size_t n = line.path.size();
            const std::size_t in = std::min<std::size_t>(n - 1, 12);
            if (graph_.node(line.from).kind == NodeKind::end && n > 1) {
                ends.push_back({StretchId(s), false, line.path.front(), line.path.front() - line.path[in]});
            }
            if (graph_.node(line.to).kind == NodeKind::end && n > 1) {
                ends.push_back({StretchId(s), true, line.path.back(), line.path.back() - line.path[n - 1 - in]});
            }
        }
        for (const End& end : ends) {
            const End* next = nullptr;
            for (const End& other : ends) {
                if (&other != &end && face(end, other) &&
                    (next == nullptr || length(other.at - end.at) < length(next->at - end.at))) {
                    next = &other;
                }
            }
            if (next != nullptr) {
                add_between(end, *next);
            }
        }
    }

    static bool face(const End& a, const End& b) {
        const Vec2 way = b.at - a.at;
        const auto apart = [](Vec2 u, Vec2 v) { return std::abs(to_degrees(std::atan2(cross(u, v), dot(u, v)))); };
        return length(way) <= longest_gap_mm && length(way) > 1.0 && apart(a.out, way) <= out_of_line_deg &&
               apart(b.out, Vec2{-way.x, -way.y}) <= out_of_line_deg;
    }

    void add_between(const End& from, const End& to) {
        const double gap = length(to.at - from.at);
        const double whole = graph_.stretch(from.stretch).length_mm;
        WayMark mark;
        mark.kind = WayMark::Kind::gap;
        mark.stretch = from.stretch;
        mark.beyond = to.stretch;
        mark.from_mm = from.at_end ? whole : -gap;
        mark.to_mm = from.at_end ? whole + gap : 0.0;
        mark.at = 0.5 * (from.at + to.at);
        mark.only_forward = from.at_end;
        mark.only_backward = !from.at_end;
        marks_.push_back(mark);
    }

    const Course& course_;
    const RouteGraph& graph_;
    StretchId id_;
    std::vector<double> along_;
    std::vector<WayMark> marks_;
};

} // namespace

std::vector<WayMark> find_way_marks(const Course& course, const RouteGraph& graph) {
    return MarkFinder(course, graph).run();
}

} // namespace vast_turn::vetting
