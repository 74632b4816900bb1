#include "course/graph/line_join.hpp"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace vast_turn {

namespace {

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

    void bridge_gaps(const Course& course, const RouteGraphOptions& options) {
        const std::vector<OpenEnd> ends = open_ends();
        struct Pair {
            double length;
            std::size_t a;
            std::size_t b;
        };
        std::vector<Pair> pairs;
        const double least_cos = std::cos(to_radians(options.widest_turn_deg));
        for (std::size_t a = 0; a < ends.size(); ++a) {
            for (std::size_t b = a + 1; b < ends.size(); ++b) {
                const Vec2 between = ends[b].at - ends[a].at;
                const double way = length(between);
                if (way <= options.longest_bridge_mm && dot(between, ends[a].outwards) >= least_cos * way &&
                    dot(-1.0 * between, ends[b].outwards) >= least_cos * way) {
                    pairs.push_back({way, a, b});
                }
            }
        }
        std::sort(pairs.begin(), pairs.end(), [](const Pair& p, const Pair& q) {
            return std::tie(p.length, p.a, p.b) < std::tie(q.length, q.a, q.b);
        });
        std::vector<bool> taken(ends.size(), false);
        for (const Pair& pair : pairs) {
            if (!taken[pair.a] && !taken[pair.b]) {
                taken[pair.a] = taken[pair.b] = true;
                const int a = ends[pair.a].knot;
                const int b = ends[pair.b].knot;
                const Bridge bridge{0.0, pair.length, colour_between(course, a, b)};
                join(net_.tips(a).front(), net_.tips(b).front(), &bridge);
            }
        }
    }

private:
    struct OpenEnd {
        int knot = 0;
        Vec2 at;
        Vec2 outwards;
    };

    std::vector<OpenEnd> open_ends() const {
        std::vector<OpenEnd> list;
        for (int k = 0; k < static_cast<int>(knots_.size()); ++k) {
            const std::vector<Tip> here = net_.tips(k);
            if (here.size() != 1) {
                continue;
            }
            const std::vector<Vec2>& path = lines_[here[0].line].shape.middle;
            const std::size_t reach = std::min<std::size_t>(path.size() - 1, 8);
            const Vec2 tip = here[0].begins ? path.front() : path.back();
            const Vec2 in = here[0].begins ? path[reach] : path[path.size() - 1 - reach];
            list.push_back({k, tip, 1.0 / std::max(1e-9, length(tip - in)) * (tip - in)});
        }
        return list;
    }

    void join(const Tip& one, const Tip& other, const Bridge* over = nullptr) {
        Line& first = lines_[one.line];
        const auto bridge = [&] {
            if (over != nullptr) {
                first.bridges.push_back(*over);
                first.bridges.back().from_mm = length_of(first.shape.middle);
            }
        };
        if (one.line == other.line) { // a ring
            bridge();
            if (over != nullptr) {
                first.shape.middle.push_back(first.shape.middle.front());
            }
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
        bridge();
        const double begun = length_of(first.shape.middle) + (over == nullptr ? 0.0 : over->length_mm);
        for (Bridge behind : second.bridges) {
            behind.from_mm += begun;
            first.bridges.push_back(behind);
        }
        const auto append = [](auto& to, const auto& from, std::size_t skip) {
            to.insert(to.end(), from.begin() + static_cast<std::ptrdiff_t>(skip), from.end());
        };
        append(first.shape.middle, second.shape.middle, over == nullptr ? 1 : 0);
        append(first.shape.width_mm, second.shape.width_mm, 0);
        first.to = second.to;
        if (first.to >= 0) {
            net_.ends.add(first.to, one.line);
        }
        second.gone = true;
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

    std::string colour_between(const Course& course, int a, int b) const {
        const Vec2 middle = 0.5 * (knots_[static_cast<std::size_t>(a)].at + knots_[static_cast<std::size_t>(b)].at);
        const auto marker = std::find_if(course.markers.begin(), course.markers.end(),
                                         [&](const Marker& m) { return covers(m, middle); });
        return marker == course.markers.end() ? std::string{} : marker->colour;
    }

    static bool covers(const Marker& marker, Vec2 p) {
        const Vec2 ahead = direction(marker.heading_deg);
        const Vec2 d = p - marker.at;
        return std::abs(dot(d, ahead)) <= 0.5 * marker.length_mm && std::abs(cross(d, ahead)) <= 0.5 * marker.across_mm;
    }

    LineNet& net_;
    std::vector<Line>& lines_;
    std::vector<Knot>& knots_;
};

} // namespace

void join_corners(LineNet& net) { Joiner(net).join_corners(); }

void bridge_gaps(LineNet& net, const Course& course, const RouteGraphOptions& options) {
    Joiner(net).bridge_gaps(course, options);
}

} // namespace vast_turn
