/// What stands beside lines and is none: arrows, titles; and bends that begin right behind a fork.

#include <algorithm>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/drawn_course.hpp"
#include "support/rounds.hpp"
#include "vast_turn/base/geometry.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

using namespace vast_turn;
using fixtures::DrawnCourse;

namespace {

/// Of a board of 1,100 x 620 mm.
RouteGraph graph_of(const std::string& drawn) {
    const DrawnCourse d;
    return find_route_graph(d.svg("width=\"1100mm\" height=\"620mm\" viewBox=\"0 0 1100 620\"",
                                  "<rect width=\"1100\" height=\"620\" fill=\"#F2EFE6\"/>" + drawn));
}

std::string line(double width_mm) {
    return fmt::format("<path d=\"M110,480 H700 A140,140 0 0 0 840,340 V90\" fill=\"none\" stroke=\"#161514\" "
                       "stroke-width=\"{}\"/>",
                       width_mm);
}

/// From its tail to its tip; the head is as wide as long.
std::string arrow(Vec2 tail, double heading_deg, double shaft_mm, double shaft_wide_mm, double head_mm) {
    const double half = 0.5 * head_mm;
    return fmt::format("<g transform=\"translate({},{}) rotate({})\"><path d=\"M0,0 H{}\" stroke=\"#161514\" "
                       "stroke-width=\"{}\"/><path d=\"M{},{} L{},0 L{},{} Z\" fill=\"#161514\"/></g>",
                       tail.x, tail.y, heading_deg, shaft_mm, shaft_wide_mm, shaft_mm, -half, shaft_mm + head_mm,
                       shaft_mm, half);
}

bool tells_small_thing(const RouteGraph& graph, Vec2 at) {
    return std::any_of(graph.not_lines.begin(), graph.not_lines.end(), [&](const NotLine& it) {
        return (it.kind == NotLineKind::lettering || it.kind == NotLineKind::speck) && length(it.at - at) < 30.0;
    });
}

} // namespace

TEST_CASE("an arrow beside a line is none, with a long shaft, a short one or none, however it points") {
    struct Drawn {
        double line_mm;
        double shaft_mm;
        double shaft_wide_mm;
        double head_mm;
    };
    for (const Drawn& drawn :
         {Drawn{9.7, 9.0, 5.0, 18.0}, {11.5, 0.0, 1.0, 19.0}, {15.0, 16.0, 6.0, 21.0}, {12.5, 36.0, 4.6, 18.0}}) {
        CAPTURE(drawn.line_mm);
        std::string arrows;
        std::vector<Vec2> tails;
        for (const double heading : {0.0, 23.0, 71.0, 180.0, 229.0}) {
            tails.push_back({190.0 + 118.0 * static_cast<double>(tails.size()), 300.0});
            arrows += arrow(tails.back(), heading, drawn.shaft_mm, drawn.shaft_wide_mm, drawn.head_mm);
        }
        const RouteGraph graph = graph_of(line(drawn.line_mm) + arrows);
        CHECK(graph.stretches.size() == 1);
        for (const Vec2 tail : tails) {
            CAPTURE(tail.x);
            CHECK(tells_small_thing(graph, tail));
        }
    }
}

TEST_CASE("a dash of the line's width that stands alone stays line from three times its width on, however it lies") {
    std::string dashes;
    double x = 190.0;
    for (const double heading : {0.0, 90.0, 17.0, 148.0, 62.0}) {
        dashes += fmt::format("<rect x=\"-{0}\" y=\"-8\" width=\"{1}\" height=\"16\" fill=\"#161514\" "
                              "transform=\"translate({2},160) rotate({3})\"/>",
                              0.07 * x, 0.14 * x, x, heading); // none as long as another, none in line
        x += 130.0;
    }
    const RouteGraph graph = graph_of(line(16.0) + dashes);
    CHECK(graph.stretches.size() == 4);
    CHECK(std::count_if(graph.not_lines.begin(), graph.not_lines.end(),
                        [](const NotLine& it) { return it.kind == NotLineKind::mark; }) == 2); // of 1.7 and 2.8 times
}

TEST_CASE("marks beside a line are no lines, unless a start, a gap or the course file says so") {
    const auto ticks = [](const std::string& more) {
        return graph_of(line(19.0) +
                        "<path d=\"M300,150 v36 M520,244 v40 M700,244 l28,28\" stroke=\"#161514\" "
                        "stroke-width=\"19\" fill=\"none\"/>" +
                        more);
    };
    const auto marks = [](const RouteGraph& graph) {
        return std::count_if(graph.not_lines.begin(), graph.not_lines.end(),
                             [](const NotLine& it) { return it.kind == NotLineKind::mark; });
    };
    const RouteGraph beside = ticks("");
    CHECK(beside.stretches.size() == 1);
    REQUIRE(marks(beside) == 3);
    const NotLine& first = beside.not_lines.front();
    CHECK(length(first.at - Vec2{300.0, 168.0}) < 1.0);
    CHECK(first.size_mm.x == doctest::Approx(19.0).epsilon(0.05));
    CHECK(first.size_mm.y == doctest::Approx(36.0).epsilon(0.05));
    // About as long as wide: neither line nor left untold.
    for (const double long_mm : {17.0, 19.0, 20.5, 22.0, 23.5, 27.0}) {
        CAPTURE(long_mm);
        const RouteGraph more = ticks(fmt::format("<path d=\"M880,560 h{} M980,200 l{},{}\" stroke=\"#161514\" "
                                                  "stroke-width=\"19\"/>",
                                                  long_mm, 0.7 * long_mm, 0.7 * long_mm));
        CHECK(more.stretches.size() == 1);
        CHECK(more.not_lines.size() == 5);
    }
    // An island between two ends that point at it, too far off to be bridged.
    const RouteGraph island = ticks("<path d=\"M150,560 H380 M560,560 h44 M790,560 H960\" stroke=\"#161514\" "
                                    "stroke-width=\"19\"/>");
    CHECK(marks(island) == 3);
    CHECK(island.stretches.size() == 4);
    // What the course file takes in, and where a robot is set down.
    const DrawnCourse d;
    const std::string size = "width=\"900mm\" height=\"500mm\" viewBox=\"0 0 900 500\"";
    const std::string drawn =
        "<rect width=\"900\" height=\"500\" fill=\"#F2EFE6\"/><path d=\"M60,300 H840 M200,180 v40 "
        "M500,180 v40\" stroke=\"#161514\" stroke-width=\"19\"/>";
    CHECK(find_route_graph(d.svg(size, drawn)).stretches.size() == 1);
    CHECK(find_route_graph(d.svg(size, drawn, "[[take_in]]\nfrom_mm = [180, 160]\nto_mm = [220, 240]\n"))
              .stretches.size() == 2);
    CHECK(find_route_graph(d.svg(size, drawn, "[[start]]\nname = \"bench\"\nat_mm = [500, 200]\nheading_deg = 90\n"))
              .stretches.size() == 2);
}

TEST_CASE("a title in heavy letters, more than a quarter of the line, makes no line of a thin arrow") {
    // Strokes 7.5 mm wide beside a line of 13 mm.
    std::string title = "<g fill=\"none\" stroke=\"#161514\" stroke-width=\"7.5\">";
    for (const double x : {130.0, 330.0}) {
        title += fmt::format("<g transform=\"translate({},0)\"><path d=\"M0,200 v-62 h40 v34 h-40\"/><path d=\"M60,200 "
                             "v-62 h38 M60,168 h30 M60,196 h38\"/><path d=\"M118,200 v-62 l40,62 v-62\"/></g>",
                             x);
    }
    title += "</g>";
    const RouteGraph graph =
        graph_of("<path d=\"M110,480 H560 V300\" fill=\"none\" stroke=\"#161514\" stroke-width=\"13\"/>" + title +
                 arrow({700.0, 400.0}, 17.0, 36.0, 4.6, 18.0));
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches[0].width_mm == doctest::Approx(13.0).epsilon(0.03));
}

TEST_CASE("a bend that begins right behind a fork is as tight as it is, and no corner is made up") {
    struct Arm {
        double width_mm;
        double radius_mm;
        double behind_mm; ///< the fork's middle
        double turn_deg;
    };
    for (const Arm& arm : {Arm{35.7, 50.0, 16.0, 61.0}, {33.0, 44.0, 26.0, 43.0}, {27.0, 60.0, 19.0, 74.0}}) {
        CAPTURE(arm.radius_mm);
        const double turn = to_radians(arm.turn_deg);
        const Vec2 bent{arm.radius_mm * (1.0 - std::cos(turn)), arm.radius_mm * std::sin(turn)};
        const RouteGraph graph = graph_of(fmt::format(
            "<path d=\"M110,210 H960 M530,210 v{} a{},{} 0 0 0 {},{} l{},{}\" fill=\"none\" stroke=\"#161514\" "
            "stroke-width=\"{}\"/>",
            arm.behind_mm, arm.radius_mm, arm.radius_mm, bent.x, bent.y, 150.0 * std::sin(turn), 150.0 * std::cos(turn),
            arm.width_mm));
        REQUIRE(graph.stretches.size() == 3);
        double tightest = 1e9;
        for (const Stretch& stretch : graph.stretches) {
            tightest = std::min(tightest, stretch.tightest_mm);
        }
        CHECK(tightest == doctest::Approx(arm.radius_mm).epsilon(0.15));
    }
}

TEST_CASE("a thin frame round an end leaves the bend that it crosses as it is") {
    struct Frame {
        double radius_mm;
        double width_mm;
        double top;
        double stroke_mm;
    };
    std::vector<Frame> frames{{60.0, 31.0, 424.0, 1.6}, {60.0, 31.0, 466.0, 1.6}, {45.0, 19.0, 436.0, 2.7}};
    if (!fixtures::sanitized()) {
        for (const double top : {418.0, 421.0, 430.0, 437.0, 444.0}) {
            frames.push_back({60.0, 31.0, top, 1.6});
            frames.push_back({60.0, 31.0, top, 2.7});
        }
        frames.insert(frames.end(), {{45.0, 19.0, 406.0, 2.7}, {45.0, 19.0, 456.0, 1.1}, {80.0, 25.0, 446.0, 1.6}});
    }
    for (const Frame& frame : frames) {
        CAPTURE(frame.radius_mm);
        CAPTURE(frame.stroke_mm);
        CAPTURE(frame.top);
        // A bend through 87 degrees, cut off 30 mm behind it.
        const double size = frame.radius_mm / 60.0;
        const RouteGraph graph = graph_of(fmt::format(
            "<path d=\"M120,350 L400,385 a{0},{0} 0 0 1 {1},{2} l-3.2,30\" fill=\"none\" stroke=\"#161514\" "
            "stroke-width=\"{3}\"/><rect x=\"310\" y=\"{4}\" width=\"180\" height=\"140\" fill=\"none\" "
            "stroke=\"#161514\" stroke-width=\"{5}\"/>",
            frame.radius_mm, 52.4 * size, 63.8 * size, frame.width_mm, frame.top, frame.stroke_mm));
        REQUIRE(graph.stretches.size() == 1);
        CHECK(graph.stretches[0].tightest_mm == doctest::Approx(frame.radius_mm).epsilon(0.06));
        const std::vector<Vec2>& path = graph.stretches[0].path;
        const Vec2 end{396.8 + 52.4 * size, 415.0 + 63.8 * size};
        CHECK(std::min(length(path.front() - end), length(path.back() - end)) < 2.0);
    }
}

TEST_CASE("a thin frame that crosses an arm of a fork leaves the fork where it is") {
    for (const double left : {492.0, 499.0, 505.0}) {
        CAPTURE(left);
        const RouteGraph graph = graph_of(fmt::format(
            "<path d=\"M120,310 H458 a74,74 0 0 0 70.4,-51.1 l37.1,-114.1 M458,310 a74,74 0 0 1 42.4,13.4 l139,97\" "
            "fill=\"none\" stroke=\"#161514\" stroke-width=\"37\"/><rect x=\"{}\" y=\"322\" width=\"190\" "
            "height=\"150\" fill=\"none\" stroke=\"#161514\" stroke-width=\"1.5\"/>",
            left));
        REQUIRE(graph.stretches.size() == 3);
        double tightest = 1e9;
        for (const Stretch& stretch : graph.stretches) {
            tightest = std::min(tightest, stretch.tightest_mm);
        }
        CHECK(tightest == doctest::Approx(74.0).epsilon(0.12));
        const auto fork = std::find_if(graph.nodes.begin(), graph.nodes.end(),
                                       [](const Node& node) { return node.kind == NodeKind::fork; });
        REQUIRE(fork != graph.nodes.end());
        CHECK(length(fork->at - Vec2{458.0, 310.0}) < 5.0);
    }
}
