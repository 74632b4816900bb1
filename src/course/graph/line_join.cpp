#include "course/graph/line_join.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <set>
#include <tuple>
#include <utility>

#include "course/graph/junction_fit.hpp"

namespace vast_turn {

namespace {

/// The colour of the plate that covers a point; empty when none does.
std::string colour_of(const Course& course, Vec2 at) {
    const auto marker = std::find_if(course.markers.begin(), course.markers.end(),
                                     [&](const Marker& m) { return distance_to(m, at) <= 0.0; });
    return marker == course.markers.end() ? std::string{} : marker->colour;
}

class Joiner {
public:
    explicit Joiner(LineNet& net) : net_(net), lines_(net.lines), knots_(net.knots) {}

    void join_corners() {
        for (int k = 0; k < static_cast<int>(knots_.size()); ++k) {
            const std::vector<Tip> here = net_.tips(k);
            if (here.size() == 2) {
                join(here[0], here[1]);
            }
        }
    }

    void bridge_gaps(const LineMask& mask, const Course& course, const RouteGraphOptions& options) {
        const std::vector<OpenEnd> ends = open_ends();
        std::vector<Pair> pairs;
        for (std::size_t a = 0; a < ends.size(); ++a) {
            for (std::size_t b = a + 1; b < ends.size(); ++b) {
                if (const std::optional<double> cost = cost_of(ends[a], ends[b], options)) {
                    pairs.push_back({*cost, a, b, !faces(ends[a], ends[b], options)});
                }
            }
        }
        std::sort(pairs.begin(), pairs.end(),
                  [](const Pair& p, const Pair& q) { return std::tie(p.cost, p.a, p.b) < std::tie(q.cost, q.a, q.b); });
        std::vector<bool> taken(ends.size(), false);
        for (const Pair& pair : pairs) {
            if (!taken[pair.a] && !taken[pair.b] && is_free(mask, ends[pair.a].at, ends[pair.b].at) &&
                (!pair.corner || (is_long(ends[pair.a]) && is_long(ends[pair.b])))) {
                taken[pair.a] = taken[pair.b] = true;
                const int a = ends[pair.a].knot;
                const int b = ends[pair.b].knot;
                const std::vector<Vec2> over = between(ends[pair.a], ends[pair.b], options);
                join(net_.tips(a).front(), net_.tips(b).front(), &over, colour_of(course, over[over.size() / 2]));
            }
        }
    }

private:
    struct OpenEnd {
        int knot = 0;
        Vec2 at;
        Vec2 outwards; ///< of length 1
        double width_mm = 0.0;
    };
    struct Pair {
        double cost = 0.0;
        std::size_t a = 0;
        std::size_t b = 0;
        bool corner = false;
    };

    std::vector<OpenEnd> open_ends() const {
        std::vector<OpenEnd> list;
        for (int k = 0; k < static_cast<int>(knots_.size()); ++k) {
            const std::vector<Tip> here = net_.tips(k);
            if (here.size() == 1) {
                const LineShape& shape = lines_[here[0].line].shape;
                const bool begins = here[0].begins;
                list.push_back({k, begins ? shape.middle.front() : shape.middle.back(), heading_out(shape, begins),
                                shape.usual_width_mm});
            }
        }
        return list;
    }

    /// Of a line at its end, from a piece that is long against what the end itself is uncertain by.
    static Vec2 heading_out(const LineShape& shape, bool begins) {
        const std::vector<Vec2>& path = shape.middle;
        const auto most = static_cast<std::size_t>(std::max(10.0, 0.3 * shape.usual_width_mm));
        // Where wide tape is cut its middle strays to a corner of the cut.
        const auto rim = static_cast<std::size_t>(0.12 * shape.usual_width_mm);
        const std::size_t skipped = path.size() > most + rim ? rim : 0;
        const std::size_t reach = std::min(path.size() - 1, most + skipped);
        std::vector<Vec2> inwards;
        for (std::size_t i = skipped; i <= reach; ++i) {
            inwards.push_back(begins ? path[i] : path[path.size() - 1 - i]);
        }
        if (inwards.size() < 4) {
            const Vec2 d = inwards.front() - inwards.back();
            return 1.0 / std::max(1e-9, length(d)) * d;
        }
        const double to_end =
            begins ? length(path[0] - path[skipped]) : length(path.back() - path[path.size() - 1 - skipped]);
        const Vec2 d = -1.0 * fit_arm(inwards, 0.05).heading(-to_end);
        return 1.0 / std::max(1e-9, length(d)) * d;
    }

    static double angle_deg(Vec2 from, Vec2 to) { return to_degrees(std::atan2(cross(from, to), dot(from, to))); }

    /// How far two ends are out of line, each, degrees: along a bend by the same to the other side.
    struct Turns {
        double leaves = 0.0;
        double comes = 0.0;

        double uneven() const { return std::abs(leaves + comes); }
        double both() const { return std::abs(leaves) + std::abs(comes); }
        double more() const { return std::max(std::abs(leaves), std::abs(comes)); }
    };

    static Turns turns_between(const OpenEnd& a, const OpenEnd& b) {
        const Vec2 between = b.at - a.at;
        return {angle_deg(between, a.outwards), angle_deg(between, -1.0 * b.outwards)};
    }

    /// Whether a line that ends in the one goes on in the other, straight or along a bend.
    static bool faces(const OpenEnd& a, const OpenEnd& b, const RouteGraphOptions& options) {
        constexpr double even_deg = 24.0;
        const Turns turns = turns_between(a, b);
        return turns.more() <= (turns.uneven() < even_deg ? 1.15 : 1.0) * options.widest_turn_deg;
    }

    /// Whether a line is long enough to turn a corner where it is cut: strokes of letters end near one another too.
    bool is_long(const OpenEnd& end) const {
        constexpr double widths = 8.0;
        return length_of(lines_[net_.tips(end.knot).front().line].shape.middle) > widths * end.width_mm;
    }

    /// How unlikely it is that two ends are one line: nothing when they are two. The line goes on straight or along a
    /// bend, which leaves the chord by the angle at which it comes back to it.
    static std::optional<double> cost_of(const OpenEnd& a, const OpenEnd& b, const RouteGraphOptions& options) {
        const Vec2 between = b.at - a.at;
        const double way = length(between);
        if (way > options.longest_bridge_mm || way <= 0.0) {
            return std::nullopt;
        }
        constexpr double alike = 1.5;
        if (a.width_mm > alike * b.width_mm || b.width_mm > alike * a.width_mm) {
            return std::nullopt;
        }
        const Turns turns = turns_between(a, b);
        constexpr double corner = 0.5; // straight on is likelier
        if (!faces(a, b, options)) {
            return corner_between(a, b) ? std::optional(way * (1.0 + corner + turns.both() / 60.0)) : std::nullopt;
        }
        return way * (1.0 + turns.both() / 60.0 + turns.uneven() / 30.0);
    }

    /// Where two lines that end near one another would meet in a corner that is cut out.
    static std::optional<Vec2> corner_between(const OpenEnd& a, const OpenEnd& b) {
        const Vec2 between = b.at - a.at;
        const double way = length(between);
        const double near_mm = std::max(45.0, 2.5 * std::min(a.width_mm, b.width_mm));
        constexpr double sharpest_deg = 115.0;
        const double turn = angle_deg(a.outwards, -1.0 * b.outwards);
        const double sine = cross(a.outwards, b.outwards);
        if (way > near_mm || std::abs(turn) > sharpest_deg || std::abs(sine) < 0.2) {
            return std::nullopt;
        }
        const double from_a = cross(between, b.outwards) / sine;
        const double from_b = cross(between, a.outwards) / sine;
        constexpr double askew = 0.1; // ends lie so far behind the corner, as a part of the way
        if (from_a < -askew * way || from_b < -askew * way) {
            return std::nullopt;
        }
        return a.at + from_a * a.outwards;
    }

    /// Whether no other line lies between: one would be jumped over.
    /// From one end to the other: round a corner, or along a bend.
    static std::vector<Vec2> between(const OpenEnd& a, const OpenEnd& b, const RouteGraphOptions& options) {
        const std::optional<Vec2> corner = faces(a, b, options) ? std::nullopt : corner_between(a, b);
        return corner ? resampled({a.at, *corner, b.at}, 2.0) : curve(a, b);
    }

    /// From one end to the other by a cubic that follows a circle where the ends lie on one.
    static std::vector<Vec2> curve(const OpenEnd& a, const OpenEnd& b) {
        const Vec2 between = b.at - a.at;
        const double way = length(between);
        const double turn =
            to_radians(std::abs(angle_deg(between, a.outwards) - angle_deg(between, -1.0 * b.outwards)));
        const double handle =
            way * (turn < 0.01 ? 1.0 / 3.0 : 2.0 / 3.0 * std::tan(0.25 * turn) / std::sin(0.5 * turn));
        const Vec2 p = a.at + handle * a.outwards;
        const Vec2 q = b.at + handle * b.outwards;
        const int steps = std::max(2, static_cast<int>(std::lround(0.5 * way)));
        std::vector<Vec2> points;
        for (int i = 0; i <= steps; ++i) {
            const double t = static_cast<double>(i) / steps;
            const double u = 1.0 - t;
            points.push_back((u * u * u) * a.at + (3.0 * u * u * t) * p + (3.0 * u * t * t) * q + (t * t * t) * b.at);
        }
        return points;
    }

    /// Over a bridge: a path from the one tip to the other, and what lies there.
    void join(const Tip& one, const Tip& other, const std::vector<Vec2>* over = nullptr,
              const std::string& marker = {}) {
        Line& first = lines_[one.line];
        if (one.line == other.line) { // a ring
            std::vector<Vec2> on = over == nullptr ? std::vector<Vec2>{} : *over;
            if (one.begins) {
                std::reverse(on.begin(), on.end());
            }
            add_bridge(first, on, marker);
            first.from = first.to = -1;
            return;
        }
        Line& second = lines_[other.line];
        if (one.begins) {
            turn_round(first);
        }
        if (!other.begins) {
            turn_round(second);
        }
        add_bridge(first, over == nullptr ? std::vector<Vec2>{} : *over, marker);
        const double begun = length_of(first.shape.middle);
        for (Bridge behind : second.bridges) {
            behind.from_mm += begun;
            first.bridges.push_back(behind);
        }
        const auto append = [](auto& to, const auto& from, std::size_t skip) {
            to.insert(to.end(), from.begin() + static_cast<std::ptrdiff_t>(skip), from.end());
        };
        if (second.shape.width_mm.size() > first.shape.width_mm.size()) {
            first.shape.usual_width_mm = second.shape.usual_width_mm; // of the longer of the two
        }
        append(first.shape.middle, second.shape.middle, 1);
        append(first.shape.width_mm, second.shape.width_mm, 0);
        first.to = second.to;
        if (first.to >= 0) {
            net_.ends.add(first.to, one.line);
        }
        second.gone = true;
    }

    /// Prolongs a line from its last point.
    static void add_bridge(Line& line, const std::vector<Vec2>& over, const std::string& marker) {
        if (!over.empty()) {
            line.bridges.push_back({length_of(line.shape.middle), length_of(over), marker});
            line.shape.middle.insert(line.shape.middle.end(), over.begin() + 1, over.end());
        }
    }

    static void turn_round(Line& line) {
        std::swap(line.from, line.to);
        const double total = length_of(line.shape.middle);
        std::reverse(line.shape.middle.begin(), line.shape.middle.end());
        std::reverse(line.shape.width_mm.begin(), line.shape.width_mm.end());
        for (Bridge& bridge : line.bridges) {
            bridge.from_mm = total - bridge.from_mm - bridge.length_mm;
        }
        std::reverse(line.bridges.begin(), line.bridges.end());
    }

    LineNet& net_;
    std::vector<Line>& lines_;
    std::vector<Knot>& knots_;
};

} // namespace

void join_corners(LineNet& net) { Joiner(net).join_corners(); }

namespace {

/// Which lines pass near a point, so that nobody looks through all of them.
class LinesAround {
public:
    explicit LinesAround(const std::vector<Line>& lines) {
        for (std::size_t i = 0; i < lines.size(); ++i) {
            if (lines[i].gone) {
                continue;
            }
            for (const Vec2 p : lines[i].shape.middle) {
                std::vector<std::size_t>& here = at_[cell(p)];
                if (here.empty() || here.back() != i) {
                    here.push_back(i);
                }
            }
        }
    }

    /// Those within a cell of it, ascending.
    std::set<std::size_t> around(Vec2 p) const {
        std::set<std::size_t> found;
        const auto [column, row] = cell(p);
        for (int y = row - 1; y <= row + 1; ++y) {
            for (int x = column - 1; x <= column + 1; ++x) {
                if (const auto here = at_.find({x, y}); here != at_.end()) {
                    found.insert(here->second.begin(), here->second.end());
                }
            }
        }
        return found;
    }

private:
    static std::pair<int, int> cell(Vec2 p) {
        constexpr double side_mm = 32.0;
        return {static_cast<int>(std::floor(p.x / side_mm)), static_cast<int>(std::floor(p.y / side_mm))};
    }

    std::map<std::pair<int, int>, std::vector<std::size_t>> at_;
};

void insert(std::vector<Bridge>& bridges, const Bridge& bridge) {
    bridges.insert(
        std::find_if(bridges.begin(), bridges.end(), [&](const Bridge& b) { return b.from_mm > bridge.from_mm; }),
        bridge);
}

} // namespace

void note_covers(LineNet& net, const LineMask& mask, const Course& course) {
    const LinesAround lines(net.lines);
    for (const Cover& cover : mask.covers) {
        Line* line = nullptr;
        double low = 0.0;
        double high = 0.0;
        constexpr double near_mm = 6.0;
        double nearest = near_mm;
        for (const std::size_t i : lines.around(cover.from)) {
            const auto [from, from_off] = nearest_along(net.lines[i].shape.middle, cover.from);
            const auto [to, to_off] = nearest_along(net.lines[i].shape.middle, cover.to);
            if (std::max(from_off, to_off) < nearest) {
                nearest = std::max(from_off, to_off);
                line = &net.lines[i];
                low = std::min(from, to);
                high = std::max(from, to);
            }
        }
        if (line == nullptr) {
            continue;
        }
        const std::string marker = colour_of(course, 0.5 * (cover.from + cover.to));
        constexpr double stroke = 0.35; // of a line's width: no gap to a robot
        if (marker.empty() && high - low < stroke * line->shape.usual_width_mm) {
            continue;
        }
        const double whole = length_of(line->shape.middle);
        if (line->ring() && high - low > 0.5 * whole) { // it lies over the point where the ring begins and ends
            insert(line->bridges, {0.0, low, marker});
            insert(line->bridges, {high, whole - high, marker});
        } else {
            insert(line->bridges, {low, high - low, marker});
        }
    }
}

void bridge_gaps(LineNet& net, const LineMask& mask, const Course& course, const RouteGraphOptions& options) {
    Joiner(net).bridge_gaps(mask, course, options);
}

} // namespace vast_turn
