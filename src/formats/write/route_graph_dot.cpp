#include "vast_turn/formats/write/route_graph_dot.hpp"

#include <fmt/format.h>

#include "vast_turn/base/visible.hpp"

namespace vast_turn {

namespace {

/// A name between quotes of the DOT language.
std::string dot_quoted(const std::string& text) {
    std::string out = "\"";
    for (const char c : visible(text)) {
        out += c == '"' || c == '\\' ? std::string{'\\', c} : std::string{c};
    }
    return out + "\"";
}

} // namespace

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
        out += fmt::format("  {} -- {} [label=\"{:.0f} mm\"];\n", dot_quoted(graph.node(stretch.from).name),
                           dot_quoted(graph.node(stretch.to).name), stretch.length_mm);
    }
    return out + "}\n";
}

} // namespace vast_turn
