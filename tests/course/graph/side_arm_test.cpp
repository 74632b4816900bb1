/// Forks whose arm bends at once, and dashes of which thinning leaves next to nothing.

#include <cmath>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

/// The junction with so many ways that is nearest to a point.
double off_of(const RouteGraph& graph, std::size_t ways, Vec2 at) {
    double nearest = 1e9;
    for (const Node& node : graph.nodes) {
        nearest = node.exits.size() == ways ? std::min(nearest, length(node.at - at)) : nearest;
    }
    return nearest;
}

} // namespace

TEST_CASE("a fork whose arm bends right behind it stands where the arm leaves, and its lines are as long as they are") {
    double worst = 0.0;
    for (const double width : {12.0, 19.0, 30.0, 44.0}) {
        for (const double straight : {0.45, 0.8, 1.4}) { // widths beyond the edge
            for (const double side : {-1.0, 1.0}) {
                CAPTURE(width);
                CAPTURE(straight);
                CAPTURE(side);
                const double scale = std::max(1.0, width / 19.0);
                const double up = 400.0 - 0.5 * width - straight * width;
                const double r = 55.0 * scale;
                // Up from the line, then round through 70 degrees, then on.
                const double a = to_radians(70.0);
                const Vec2 end{620.0 + side * r * (1.0 - std::cos(a)), up - r * std::sin(a)};
                const Vec2 on = end + 60.0 * scale * Vec2{side * std::sin(a), -std::cos(a)};
                const Course course = fixtures::board(
                    {"M 180,400 H 960", fmt::format("M 620,400 V {} A {} {} 0 0 {} {} {} L {} {}", up, r, r,
                                                    side > 0.0 ? 1 : 0, end.x, end.y, on.x, on.y)},
                    width);
                const RouteGraph graph = find_route_graph(course);
                const double off = off_of(graph, 3, {620.0, 400.0});
                worst = std::max(worst, off);
                CHECK(off < 1.0);
                double left = 0.0;
                for (const Stretch& stretch : graph.stretches) {
                    const bool is_left = length(graph.node(stretch.from).at - Vec2{180.0, 400.0}) < 20.0 ||
                                         length(graph.node(stretch.to).at - Vec2{180.0, 400.0}) < 20.0;
                    left = is_left ? stretch.length_mm : left;
                }
                CHECK(left == doctest::Approx(440.0).epsilon(0.01));
            }
        }
    }
    MESSAGE("farthest off: ", worst, " mm");
}

TEST_CASE("dashes at a slant, of which thinning leaves a cell or none, are one line with all their gaps") {
    for (const double deg : {40.0, 44.5, 45.0, 46.0, 50.0}) {
        for (const double width : {8.0, 10.0, 12.0}) {
            for (int shift = 0; shift < 4; ++shift) {
                CAPTURE(deg);
                CAPTURE(width);
                CAPTURE(shift);
                const double on = 2.5 * width;
                const double off = 1.2 * width;
                const double a = to_radians(deg);
                const Vec2 from{200.0 + 0.37 * shift, 520.0 + 0.61 * shift};
                const int dashes = 12;
                const Vec2 to = from + (dashes * (on + off) - off) * Vec2{std::cos(a), -std::sin(a)};
                std::string gaps;
                for (int k = 1; k < dashes; ++k) {
                    gaps += fmt::format("{}[{}, {}]", k > 1 ? ", " : "", k * (on + off) - off, off);
                }
                const Course course = parse_course(
                    fmt::format(
                        "name = \"dashes\"\nsize_mm = [1000, 600]\ncell_mm = 1\n[[tape]]\npath = \"M {},{} L {},{}\"\n"
                        "width_mm = {}\ngaps_mm = [{}]\n",
                        from.x, from.y, to.x, to.y, width, gaps),
                    "dashes");
                const RouteGraph graph = find_route_graph(course);
                REQUIRE(graph.stretches.size() == 1);
                CHECK(graph.stretches[0].bridges.size() == static_cast<std::size_t>(dashes - 1));
                CHECK(graph.stretches[0].length_mm == doctest::Approx(length(to - from)).epsilon(0.01));
            }
        }
    }
}
