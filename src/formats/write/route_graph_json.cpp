#include <cmath>
#include <string>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "formats/write/route_graph_json.hpp"
#include "vast_turn/formats/write/results.hpp"

namespace vast_turn {

namespace {

using GraphJson = nlohmann::ordered_json;

double to_micrometres(double x) { return std::round(x * 1000.0) / 1000.0; }

GraphJson spot(Vec2 p) { return GraphJson::array({to_micrometres(p.x), to_micrometres(p.y)}); }

GraphJson stretch_json(const Course& course, const RouteGraph& graph, const Stretch& stretch) {
    const auto name = [&](int node) { return graph.nodes[static_cast<std::size_t>(node)].name; };
    GraphJson gaps = GraphJson::array();
    for (const Bridge& bridge : stretch.bridges) {
        gaps.push_back({{"from_mm", to_micrometres(bridge.from_mm)},
                        {"length_mm", to_micrometres(bridge.length_mm)},
                        {"marker", bridge.marker.empty() ? GraphJson(nullptr) : GraphJson(bridge.marker)}});
    }
    GraphJson markers = GraphJson::array();
    for (const int marker : stretch.markers) {
        markers.push_back(course.markers[static_cast<std::size_t>(marker)].colour);
    }
    GraphJson things = GraphJson::array();
    for (const int thing : stretch.things) {
        things.push_back(course.things[static_cast<std::size_t>(thing)].name);
    }
    const bool bent = std::isfinite(stretch.tightest_mm);
    return {{"from", name(stretch.from)},
            {"to", name(stretch.to)},
            {"length_mm", to_micrometres(stretch.length_mm)},
            {"width_mm", to_micrometres(stretch.width_mm)},
            {"narrowest_mm", to_micrometres(stretch.narrowest_mm)},
            {"widest_mm", to_micrometres(stretch.widest_mm)},
            {"tightest_bend_mm", bent ? GraphJson(to_micrometres(stretch.tightest_mm)) : GraphJson(nullptr)},
            {"tightest_bend_at_mm", bent ? spot(stretch.tightest_at) : GraphJson(nullptr)},
            {"gaps", gaps},
            {"markers", markers},
            {"things", things}};
}

GraphJson node_json(const Node& node) {
    GraphJson exits = GraphJson::array();
    for (const Exit& exit : node.exits) {
        exits.push_back({{"stretch", exit.stretch},
                         {"forward", exit.forward},
                         {"heading_deg", std::round(exit.heading_deg * 10.0) / 10.0}});
    }
    return {{"name", node.name}, {"kind", name_of(node.kind)}, {"at_mm", spot(node.at)}, {"exits", exits}};
}

GraphJson feature(const GraphJson& geometry, const GraphJson& properties) {
    return {{"type", "Feature"}, {"geometry", geometry}, {"properties", properties}};
}

/// A name between quotes of the DOT language.
std::string dot_quoted(const std::string& text) {
    std::string out = "\"";
    for (const char c : text) {
        out += c == '"' || c == '\\' ? std::string{'\\', c} : std::string{c};
    }
    return out + "\"";
}

} // namespace

GraphJson route_graph_object(const Course& course, const RouteGraph& graph) {
    GraphJson nodes = GraphJson::array();
    for (const Node& node : graph.nodes) {
        nodes.push_back(node_json(node));
    }
    GraphJson stretches = GraphJson::array();
    for (const Stretch& stretch : graph.stretches) {
        stretches.push_back(stretch_json(course, graph, stretch));
    }
    return {{"nodes", nodes}, {"stretches", stretches}};
}

std::string route_graph_geojson(const Course& course, const RouteGraph& graph) {
    GraphJson features = GraphJson::array();
    for (const Stretch& stretch : graph.stretches) {
        GraphJson points = GraphJson::array();
        for (const Vec2 p : stretch.path) {
            points.push_back(spot(p));
        }
        features.push_back(
            feature({{"type", "LineString"}, {"coordinates", points}}, stretch_json(course, graph, stretch)));
    }
    for (const Node& node : graph.nodes) {
        features.push_back(feature({{"type", "Point"}, {"coordinates", spot(node.at)}},
                                   {{"name", node.name}, {"kind", name_of(node.kind)}}));
    }
    const GraphJson json = {{"type", "FeatureCollection"}, {"name", course.name}, {"features", features}};
    return json.dump(1, ' ', false, GraphJson::error_handler_t::replace) + "\n";
}

std::string route_graph_dot(const Course& course, const RouteGraph& graph) {
    std::string out =
        fmt::format("graph {} {{\n  node [shape=box, fontname=\"DejaVu Sans\"];\n  edge [fontname=\"DejaVu "
                    "Sans\", fontsize=10];\n",
                    dot_quoted(course.name));
    for (const Node& node : graph.nodes) { // half a point a millimetre; y points up there
        out += fmt::format("  {} [pos=\"{:.1f},{:.1f}\"];\n", dot_quoted(node.name), node.at.x / 2.0,
                           (course.height_mm - node.at.y) / 2.0);
    }
    for (const Stretch& stretch : graph.stretches) {
        out += fmt::format("  {} -- {} [label=\"{:.0f} mm\"];\n",
                           dot_quoted(graph.nodes[static_cast<std::size_t>(stretch.from)].name),
                           dot_quoted(graph.nodes[static_cast<std::size_t>(stretch.to)].name), stretch.length_mm);
    }
    return out + "}\n";
}

} // namespace vast_turn
