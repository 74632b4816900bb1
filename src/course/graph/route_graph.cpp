#include "vast_turn/course/graph/route_graph.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <limits>
#include <map>
#include <tuple>

#include <fmt/format.h>

#include "course/graph/line_judge.hpp"
#include "course/graph/line_net.hpp"
#include "course/graph/tightest_bend.hpp"

namespace vast_turn {

namespace {

/// Names, measures and orders what was found.
class GraphWriter {
public:
    GraphWriter(const Course& course, LineNet net) : course_(course), net_(std::move(net)) {}

    RouteGraph run() {
        RouteGraph graph;
        graph.not_lines = std::move(net_.not_lines);
        std::map<int, NodeId> number_of;
        for (std::size_t k = 0; k < net_.knots.size(); ++k) {
            if (!net_.tips(static_cast<int>(k)).empty()) {
                number_of[static_cast<int>(k)] = NodeId(graph.nodes.size());
                Node node;
                node.at = net_.knots[k].at;
                graph.nodes.push_back(node);
            }
        }
        for (const Line& line : net_.lines) {
            if (line.gone) {
                continue;
            }
            Stretch stretch = measured_stretch(line);
            if (line.ring()) {
                stretch.from = stretch.to = NodeId(graph.nodes.size());
                Node seam;
                seam.kind = NodeKind::seam;
                seam.at = stretch.path.front();
                graph.nodes.push_back(seam);
            } else {
                stretch.from = number_of[line.from];
                stretch.to = number_of[line.to];
            }
            graph.stretches.push_back(std::move(stretch));
        }
        sort_nodes(graph);
        add_exits(graph);
        name_nodes(graph);
        attach(graph);
        measure_from_lines(graph);
        return graph;
    }

private:
    Stretch measured_stretch(const Line& line) const {
        Stretch stretch;
        stretch.path = line.shape.middle;
        stretch.bridges = line.bridges;
        stretch.length_mm = length_of(stretch.path);
        stretch.width_mm = line.shape.usual_width_mm;
        std::vector<double> widths; // what lies at junctions and ends is not the line's own
        const auto off = static_cast<std::size_t>(0.75 * line.shape.usual_width_mm);
        for (std::size_t i = off; i + off < line.shape.width_mm.size(); ++i) {
            if (line.shape.width_mm[i] < 2.5 * stretch.width_mm) {
                widths.push_back(line.shape.width_mm[i]);
            }
        }
        std::sort(widths.begin(), widths.end());
        stretch.narrowest_mm = widths.empty() ? stretch.width_mm : widths[widths.size() / 50];
        stretch.widest_mm = widths.empty() ? stretch.width_mm : widths[widths.size() - 1 - widths.size() / 50];
        find_bend(stretch, line);
        return stretch;
    }

    /// The tightest bend; what is bridged turns as much as its two ends are apart in heading.
    void find_bend(Stretch& stretch, const Line& line) const {
        const std::vector<Vec2> path = resampled(stretch.path, 1.0);
        const double step = stretch.length_mm / static_cast<double>(std::max<std::size_t>(1, path.size() - 1));
        constexpr double rim = 0.15; // of its width: where a line is cut its middle is less sure
        std::vector<bool> bridged(path.size(), false);
        for (std::size_t i = 0; i < path.size(); ++i) {
            bridged[i] = is_bridged(stretch, step * static_cast<double>(i), rim * stretch.width_mm);
        }
        Bend bend = line.ring() ? tightest_of_ring(path, bridged)
                                : tightest_bend(path, bridged, {led_to(line.from, line), led_to(line.to, line)});
        for (std::size_t i = 0; i < stretch.bridges.size(); ++i) {
            constexpr double straight_mm = 800.0;
            const double middle = stretch.bridges[i].from_mm + 0.5 * stretch.bridges[i].length_mm;
            const double radius = radius_at_bridge(stretch, i, path, bridged, step);
            if (radius < std::min(straight_mm, bend.radius_mm)) {
                bend = {radius, path[std::min(path.size() - 1, static_cast<std::size_t>(middle / step))]};
            }
        }
        stretch.tightest_mm = bend.radius_mm;
        stretch.tightest_at = bend.at;
    }

    /// How far the middle of a line tells nothing of its bends, mm: where others join, or where it is cut.
    std::size_t led_to(int knot, const Line& line) const {
        const std::vector<KnotArc>& arcs = net_.knots[static_cast<std::size_t>(knot)].arcs;
        if (std::any_of(arcs.begin(), arcs.end(), [&](const KnotArc& a) { return &net_.lines[a.line] == &line; })) {
            return 0;
        }
        const bool loose = net_.tips(knot).size() == 1;
        return static_cast<std::size_t>((loose ? 0.6 : 1.2) * line.shape.usual_width_mm);
    }

    /// A ring bends where it is closed too: it is looked at as far beyond as any bend may reach.
    static Bend tightest_of_ring(std::vector<Vec2> path, std::vector<bool> bridged) {
        constexpr std::size_t most = 120;
        const std::size_t once = path.size() - 1; // the last point is the first
        for (std::size_t i = 1; i <= std::min(most, once); ++i) {
            path.push_back(path[i]);
            bridged.push_back(bridged[i]);
        }
        return tightest_bend(path, bridged, {});
    }

    /// Of the circle on which the line to both sides of a bridge lies; else by how far it turns there.
    static double radius_at_bridge(const Stretch& stretch, std::size_t number, const std::vector<Vec2>& path,
                                   const std::vector<bool>& bridged, double step) {
        const Bridge& bridge = stretch.bridges[number];
        const double lead = std::max(30.0, 0.8 * bridge.length_mm) + 0.15 * stretch.width_mm;
        const double from = (bridge.from_mm - lead) / step;
        const double to = (bridge.from_mm + bridge.length_mm + lead) / step;
        const double by_turn = radius_of(stretch, number, path, step);
        if (from < 0.0 || to > static_cast<double>(path.size() - 1) || !std::isfinite(by_turn)) {
            return by_turn;
        }
        const double round =
            radius_round(path, bridged, static_cast<std::size_t>(from), static_cast<std::size_t>(to), 0.25);
        return std::isfinite(round) ? round : by_turn;
    }

    static bool is_bridged(const Stretch& stretch, double at_mm, double reach_mm) {
        return std::any_of(stretch.bridges.begin(), stretch.bridges.end(), [&](const Bridge& bridge) {
            return at_mm + reach_mm > bridge.from_mm && at_mm - reach_mm < bridge.from_mm + bridge.length_mm;
        });
    }

    /// By how far the line turns from before a bridge to behind it. Of a dash next to it the direction is that of all
    /// of it, as its middle has it.
    static double radius_of(const Stretch& stretch, std::size_t number, const std::vector<Vec2>& path, double step) {
        constexpr double endless = std::numeric_limits<double>::infinity();
        constexpr double rim_mm = 2.0;
        constexpr double lead_mm = 12.0;
        constexpr double dash_mm = 75.0;
        const Bridge& bridge = stretch.bridges[number];
        const double from = bridge.from_mm - rim_mm;
        const double to = bridge.from_mm + bridge.length_mm + rim_mm;
        const auto lead_to = [&](double next) {
            return next < dash_mm ? std::max(lead_mm, next - 2.0 * rim_mm) : lead_mm;
        };
        double before_mm = lead_mm;
        double behind_mm = lead_mm;
        if (number > 0) {
            const Bridge& last = stretch.bridges[number - 1];
            before_mm = lead_to(bridge.from_mm - last.from_mm - last.length_mm);
        }
        if (number + 1 < stretch.bridges.size()) {
            behind_mm = lead_to(stretch.bridges[number + 1].from_mm - bridge.from_mm - bridge.length_mm);
        }
        const double whole_mm = step * static_cast<double>(path.size() - 1);
        if (from < before_mm || to + behind_mm > whole_mm) {
            return endless;
        }
        const auto at = [&](double mm) { return path[static_cast<std::size_t>(mm / step)]; };
        const Vec2 before = at(from) - at(from - before_mm);
        const Vec2 behind = at(to + behind_mm) - at(to);
        const double turn = std::abs(std::atan2(cross(before, behind), dot(before, behind)));
        constexpr double clear = 0.12; // about 7 degrees
        return turn < clear ? endless : (to - from + 0.5 * (before_mm + behind_mm)) / turn;
    }

    static void sort_nodes(RouteGraph& graph) {
        std::vector<NodeId> order(graph.nodes.size());
        for (std::size_t i = 0; i < order.size(); ++i) {
            order[i] = NodeId(i);
        }
        const auto key = [&](NodeId i) {
            const Vec2 p = graph.node(i).at;
            return std::tuple{std::floor(p.y / 60.0), p.x, p.y};
        };
        std::sort(order.begin(), order.end(), [&](NodeId a, NodeId b) { return key(a) < key(b); });
        std::vector<NodeId> place(order.size());
        std::vector<Node> nodes;
        for (std::size_t i = 0; i < order.size(); ++i) {
            place[order[i].index()] = NodeId(i);
            nodes.push_back(graph.node(order[i]));
        }
        graph.nodes = std::move(nodes);
        for (Stretch& stretch : graph.stretches) {
            stretch.from = place[stretch.from.index()];
            stretch.to = place[stretch.to.index()];
        }
        std::sort(graph.stretches.begin(), graph.stretches.end(), [](const Stretch& a, const Stretch& b) {
            return std::tie(a.from, a.to, a.length_mm) < std::tie(b.from, b.to, b.length_mm);
        });
    }

    static double heading_out(const std::vector<Vec2>& path, bool forward) {
        const std::size_t reach = std::min<std::size_t>(path.size() - 1, 20);
        const Vec2 d = forward ? path[reach] - path.front() : path[path.size() - 1 - reach] - path.back();
        const double deg = to_degrees(std::atan2(-d.y, d.x));
        return deg < -0.5 ? deg + 360.0 : deg; // what is level but for a hair comes first
    }

    static void add_exits(RouteGraph& graph) {
        for (std::size_t s = 0; s < graph.stretches.size(); ++s) {
            const Stretch& stretch = graph.stretches[s];
            const StretchId id(s);
            graph.node(stretch.from).exits.push_back({id, true, heading_out(stretch.path, true)});
            graph.node(stretch.to).exits.push_back({id, false, heading_out(stretch.path, false)});
        }
        for (Node& node : graph.nodes) {
            std::sort(node.exits.begin(), node.exits.end(),
                      [](const Exit& a, const Exit& b) { return a.heading_deg < b.heading_deg; });
            const std::size_t n = node.exits.size();
            if (node.kind != NodeKind::seam) {
                node.kind = n == 1   ? NodeKind::end
                            : n == 3 ? NodeKind::fork
                            : n == 4 ? NodeKind::crossing
                                     : NodeKind::star;
            }
        }
    }

    void name_nodes(RouteGraph& graph) const {
        std::map<std::string, int> count;
        std::map<std::string, std::size_t> holder; // of each place: the node nearest to it
        for (const CoursePlace& place : course_.places) {
            double best = place.radius_mm;
            for (std::size_t i = 0; i < graph.nodes.size(); ++i) {
                const double way = length(graph.nodes[i].at - place.at);
                if (way <= best && graph.nodes[i].name.empty()) {
                    best = way;
                    holder[place.name] = i;
                }
            }
            if (const auto found = holder.find(place.name); found != holder.end()) {
                graph.nodes[found->second].name = place.name;
            }
        }
        for (Node& node : graph.nodes) {
            const int number = ++count[name_of(node.kind)];
            if (node.name.empty()) {
                node.name = fmt::format("{} {}", name_of(node.kind), number);
            }
        }
    }

    void attach(RouteGraph& graph) const {
        const auto nearest_stretch = [&](Vec2 p, double within) {
            StretchId best;
            for (std::size_t s = 0; s < graph.stretches.size(); ++s) {
                const std::vector<Vec2>& path = graph.stretches[s].path;
                for (std::size_t i = 1; i < path.size(); ++i) {
                    const double way = length(p - nearest_on_segment(p, path[i - 1], path[i]));
                    if (way < within) {
                        within = way;
                        best = StretchId(s);
                    }
                }
            }
            return best;
        };
        for (std::size_t i = 0; i < course_.markers.size(); ++i) {
            const Marker& marker = course_.markers[i];
            const StretchId s = nearest_stretch(marker.at, 0.5 * std::max(marker.length_mm, marker.across_mm) + 20.0);
            if (s) {
                graph.stretch(s).markers.push_back(static_cast<int>(i));
            }
        }
        for (std::size_t i = 0; i < course_.things.size(); ++i) {
            const Thing& thing = course_.things[i];
            const StretchId s = nearest_stretch(thing.at, 0.5 * std::max(thing.size_mm.x, thing.size_mm.y) + 20.0);
            if (s) {
                graph.stretch(s).things.push_back(static_cast<int>(i));
            }
        }
    }

    const Course& course_;
    LineNet net_;
};

} // namespace

const char* name_of(NodeKind kind) {
    switch (kind) {
    case NodeKind::end: return "end";
    case NodeKind::seam: return "seam";
    case NodeKind::fork: return "fork";
    case NodeKind::crossing: return "crossing";
    case NodeKind::star: return "star";
    }
    return "";
}

const char* name_of(NotLineKind kind) {
    switch (kind) {
    case NotLineKind::dark_area: return "dark area";
    case NotLineKind::lettering: return "lettering";
    case NotLineKind::thin_line: return "thin line";
    case NotLineKind::speck: return "speck";
    case NotLineKind::mark: return "mark";
    }
    return "";
}

std::vector<Vec2> path_leaving(const RouteGraph& graph, const Exit& exit) {
    std::vector<Vec2> path = graph.stretch(exit.stretch).path;
    if (!exit.forward) {
        std::reverse(path.begin(), path.end());
    }
    return path;
}

RouteGraph find_route_graph(const Course& course, const RouteGraphOptions& options) {
    return GraphWriter(course, find_lines(course, options)).run();
}

} // namespace vast_turn
