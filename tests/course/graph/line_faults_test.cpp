/// What was told wrong of lines once: plates in tape, forks without a corner, dashes, gaps in bends, plates on rings.

#include <cmath>
#include <numeric>
#include <string>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/paint/surface.hpp"

using namespace vast_turn;

namespace {

RouteGraph graph_of(Course course) {
    paint_surface(course, 1.0);
    return find_route_graph(course);
}

Marker plate(Vec2 at, double length_mm, double across_mm, double heading_deg = 0.0) {
    return {"amber", {230, 154, 23}, at, length_mm, across_mm, heading_deg};
}

} // namespace

TEST_CASE("a plate within the tape parts no line") {
    for (const double size : {6.0, 9.0, 13.0}) {
        CAPTURE(size);
        Course course = fixtures::board({"M 100,300 H 900"});
        course.markers = {plate({500.0, 300.0}, size, size)};
        const RouteGraph graph = graph_of(course);
        REQUIRE(graph.stretches.size() == 1);
        CHECK(graph.stretches[0].length_mm == doctest::Approx(800.0).epsilon(0.005));
        CHECK(graph.stretches[0].bridges.empty());
    }
}

TEST_CASE("a plate across the line is a bridge of its colour, also close to a junction and to the line's end") {
    Course course = fixtures::board({"M 100,300 H 900", "M 500,300 V 560"});
    course.markers = {plate({500.0, 352.0}, 40.0, 44.0, 90.0), plate({870.0, 300.0}, 40.0, 38.0)};
    const RouteGraph graph = graph_of(course);
    CHECK(graph.nodes.size() == 4);
    REQUIRE(graph.stretches.size() == 3);
    int covered = 0;
    for (const Stretch& stretch : graph.stretches) {
        for (const Bridge& bridge : stretch.bridges) {
            CHECK(bridge.marker == "amber");
            CHECK(bridge.length_mm == doctest::Approx(40.0).epsilon(0.08));
            ++covered;
        }
    }
    CHECK(covered == 2);
}

TEST_CASE("a plate on a ring covers no more of it than it is long, wherever the ring begins") {
    for (int deg = 0; deg < 360; deg += 15) {
        CAPTURE(deg);
        Course course = fixtures::board({"M 620,300 A 120,120 0 0 0 380,300 A 120,120 0 0 0 620,300 Z"});
        course.markers = {plate(Vec2{500.0, 300.0} + 120.0 * direction(deg), 40.0, 44.0, deg + 90.0)};
        const RouteGraph graph = graph_of(course);
        REQUIRE(graph.stretches.size() == 1);
        const std::vector<Bridge>& bridges = graph.stretches[0].bridges;
        const double covered = std::accumulate(bridges.begin(), bridges.end(), 0.0,
                                               [](double sum, const Bridge& b) { return sum + b.length_mm; });
        CHECK(covered == doctest::Approx(40.0).epsilon(0.15));
    }
}

TEST_CASE("a fork without a corner stands where arc and straight touch, and its lines are as long") {
    for (const double radius : {90.0, 150.0, 260.0}) {
        CAPTURE(radius);
        const double rad = to_radians(55.0);
        const RouteGraph graph = find_route_graph(fixtures::board(
            {"M 100,300 H 900", fmt::format("M 300,300 A {0},{0} 0 0 0 {1},{2}", radius, 300.0 + radius * std::sin(rad),
                                            300.0 - radius * (1.0 - std::cos(rad)))},
            12.0));
        REQUIRE(graph.stretches.size() == 3);
        const auto fork = std::find_if(graph.nodes.begin(), graph.nodes.end(),
                                       [](const Node& node) { return node.kind == NodeKind::fork; });
        REQUIRE(fork != graph.nodes.end());
        CHECK(length(fork->at - Vec2{300.0, 300.0}) < 5.0);
        double lengths = 0.0;
        for (const Stretch& stretch : graph.stretches) {
            lengths += stretch.length_mm;
        }
        CHECK(lengths == doctest::Approx(800.0 + radius * rad).epsilon(0.01));
    }
}

TEST_CASE("a dashed line is one line at any angle") {
    for (const double deg : {0.0, 9.0, 18.0, 31.0, 45.0, 72.0, 81.0, 90.0}) {
        CAPTURE(deg);
        const Vec2 along = direction(deg);
        const Vec2 from = Vec2{500.0, 300.0} - 230.0 * along;
        const Vec2 to = Vec2{500.0, 300.0} + 230.0 * along;
        Course course = fixtures::board({fmt::format("M {},{} L {},{}", from.x, from.y, to.x, to.y)}, 30.0);
        for (double at = 64.0; at + 27.0 < 450.0; at += 91.0) {
            course.tapes[0].gaps.push_back({at, 27.0});
        }
        const RouteGraph graph = graph_of(course);
        REQUIRE(graph.stretches.size() == 1);
        CHECK(graph.stretches[0].length_mm == doctest::Approx(460.0).epsilon(0.01));
        REQUIRE(graph.stretches[0].bridges.size() == course.tapes[0].gaps.size());
        for (const Bridge& bridge : graph.stretches[0].bridges) {
            CHECK(std::abs(bridge.length_mm - 27.0) < 3.0);
        }
    }
}

TEST_CASE("a gap in a bend is bridged along the bend, and no bend is made up") {
    Course course = fixtures::board({"M 150,500 H 430 A 124,124 0 0 0 554,376 V 120"});
    course.tapes[0].gaps = {{280.0 + 55.0, 70.0}};
    const RouteGraph graph = graph_of(course);
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches[0].tightest_mm == doctest::Approx(124.0).epsilon(0.1));
    CHECK(graph.stretches[0].length_mm == doctest::Approx(280.0 + 0.5 * pi * 124.0 + 256.0).epsilon(0.005));
    REQUIRE(graph.stretches[0].bridges.size() == 1);
    CHECK(std::abs(graph.stretches[0].bridges[0].length_mm - 70.0) < 3.0);
}

TEST_CASE("a pad of the course file is no line: where it begins the line ends, and gaps before it are bridged") {
    // Askew, wider than long, and with a gap in the bend before it.
    const char* const text = R"(name = "yard"
size_mm = [1300, 1100]
line = { colour = "#232021", width_mm = 16.1 }
[[tape]]
path = "M 220,626 H 520 L 640,834 A 91,91 0 0 0 812,777 L 812,560 L 942,224"
gaps_mm = [[590, 63]]
[[tape]]
path = "M 942,224 L 973,144"
width_mm = PAD
)";
    std::string wider = text; // no pad yet, but a piece of the line: the line is as wide as most of it
    wider.replace(wider.find("PAD"), 3, "33");
    const RouteGraph whole = find_route_graph(parse_course(wider, "course"));
    REQUIRE(whole.stretches.size() == 1);
    CHECK(whole.stretches.front().width_mm == doctest::Approx(16.1).epsilon(0.05));
    for (const char* wide : {"60", "90", "137"}) {
        CAPTURE(wide);
        std::string with = text;
        with.replace(with.find("PAD"), 3, wide);
        const RouteGraph graph = find_route_graph(parse_course(with, "course"));
        REQUIRE(graph.stretches.size() == 1);
        const Stretch& line = graph.stretches.front();
        CHECK(line.width_mm == doctest::Approx(16.1).epsilon(0.05));
        CHECK(line.bridges.size() == 1);
        const Vec2 begins{942, 224};
        CHECK(std::min(length(line.path.front() - begins), length(line.path.back() - begins)) < 3.0);
        REQUIRE(graph.not_lines.size() == 1);
        CHECK(graph.not_lines.front().kind == NotLineKind::dark_area);
        CHECK(length(graph.not_lines.front().at - Vec2{957.5, 184}) < 3.0);
    }
}

TEST_CASE("a pad that a line leads through leaves the line, and one in which three lines meet stays their junction") {
    const std::string head = "name = \"yard\"\nsize_mm = [1300, 900]\nline = { colour = \"#232021\", width_mm = 18 }\n";
    const std::string pad = "[[tape]]\npath = \"M 610,400 H 690\"\nwidth_mm = 92\n";
    const RouteGraph through =
        find_route_graph(parse_course(head + "[[tape]]\npath = \"M 120,400 H 1180\"\n" + pad, "course"));
    REQUIRE(through.stretches.size() == 1);
    CHECK(through.stretches.front().length_mm == doctest::Approx(1060).epsilon(0.002));
    CHECK(through.stretches.front().bridges.empty());
    CHECK(through.not_lines.size() == 1);
    const RouteGraph alone =
        find_route_graph(parse_course(head + "[[tape]]\npath = \"M 120,700 H 1180\"\n" + pad, "course"));
    CHECK(alone.stretches.size() == 1); // to which no line comes
    CHECK(alone.not_lines.size() == 1);
    const RouteGraph three = find_route_graph(parse_course(
        head + "[[tape]]\npath = \"M 120,400 H 1180\"\n[[tape]]\npath = \"M 650,400 V 760\"\n" + pad, "course"));
    CHECK(std::count_if(three.nodes.begin(), three.nodes.end(),
                        [](const Node& node) { return node.kind == NodeKind::fork; }) == 1);
}

TEST_CASE("a gap at a corner of the line is one on it, also where it is not cut in its middle") {
    for (const double turn_deg : {50.0, 75.0, 90.0}) {
        for (const double askew : {-0.3, 0.0, 0.3}) {
            for (const double gap_mm : {23.0, 31.0, 39.0}) {
                CAPTURE(turn_deg);
                CAPTURE(askew);
                CAPTURE(gap_mm);
                const Vec2 end = Vec2{500.0, 400.0} + 300.0 * direction(turn_deg);
                Course course = fixtures::board({fmt::format("M 100,400 H 500 L {:.2f},{:.2f}", end.x, end.y)});
                course.tapes[0].gaps = {{400.0 + (askew - 0.5) * gap_mm, gap_mm}};
                const RouteGraph graph = graph_of(course);
                REQUIRE(graph.stretches.size() == 1);
                CHECK(graph.stretches[0].length_mm == doctest::Approx(700.0).epsilon(0.012));
                CHECK(graph.stretches[0].bridges.size() == 1);
            }
        }
    }
    // Farther apart they are two: nobody knows that they would meet.
    Course apart = fixtures::board({"M 100,400 H 440", "M 500,340 V 60"});
    CHECK(graph_of(apart).stretches.size() == 2);
}
