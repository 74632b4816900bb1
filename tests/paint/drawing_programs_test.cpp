#include <string>

#include <doctest/doctest.h>

#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

struct Drawn {
    const char* program;
    const char* scale; ///< what its files do not say themselves
};

/// The aisle of tests/drawings/make.py as this program saved it.
Course drawn_by(const Drawn& drawn) {
    const std::string text = std::string("name = \"aisle\"\nfloor = \"#EDEAE2\"\nline = { colour = \"#1B1B1B\" }\n") +
                             "drawing = \"" + drawn.program + ".svg\"\n" + drawn.scale +
                             "palette = { amber = \"#E69A17\" }\n";
    return parse_course(text, "tests/drawings/aisle.course.toml");
}

const Node* node_near(const RouteGraph& graph, Vec2 at) {
    for (const Node& node : graph.nodes) {
        if (length(node.at - at) < 1.5) {
            return &node;
        }
    }
    return nullptr;
}

} // namespace

TEST_CASE("files of several drawing programs show the same aisle: fork, ends, gap, plate, to scale") {
    for (const Drawn& drawn :
         {Drawn{"libreoffice", ""}, Drawn{"matplotlib", ""}, Drawn{"cairo", ""}, Drawn{"graphviz", ""},
          Drawn{"gnuplot", "mm_per_px = 0.5\n"}, Drawn{"fig2dev", ""}, Drawn{"ipe", ""}, Drawn{"dia", ""}}) {
        CAPTURE(drawn.program);
        const Course course = drawn_by(drawn);
        CHECK(course.warnings.empty());
        CHECK(course.width_mm == doctest::Approx(600.0).epsilon(0.002));
        CHECK(course.height_mm == doctest::Approx(390.0).epsilon(0.002));
        REQUIRE(course.markers.size() == 1);
        CHECK(length(course.markers[0].at - Vec2{450.0, 120.0}) < 1.0);
        const RouteGraph graph = find_route_graph(course);
        REQUIRE(graph.nodes.size() == 4);
        const Node* fork = node_near(graph, {300.0, 120.0});
        REQUIRE(fork != nullptr);
        CHECK(fork->kind == NodeKind::fork);
        for (const Vec2 end : {Vec2{60.0, 120.0}, Vec2{540.0, 120.0}, Vec2{300.0, 330.0}}) {
            const Node* node = node_near(graph, end);
            REQUIRE(node != nullptr);
            CHECK(node->kind == NodeKind::end);
        }
        for (const Stretch& stretch : graph.stretches) {
            CHECK(stretch.width_mm == doctest::Approx(19.0).epsilon(0.03));
            const bool down = stretch.length_mm < 225.0;
            for (const Bridge& bridge : stretch.bridges) {
                CHECK(bridge.marker == (down ? "" : "amber"));
                CHECK(bridge.length_mm == doctest::Approx(down ? 40.0 : 46.0).epsilon(0.03));
            }
            const bool plain = graph.node(stretch.from).at.x < 100.0 || graph.node(stretch.to).at.x < 100.0;
            CHECK(stretch.bridges.size() == (plain ? 0 : 1));
        }
    }
}
