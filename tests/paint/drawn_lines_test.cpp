/// Lines of drawings with what touches them, lies beside them, or is drawn as it need not be.

#include <algorithm>
#include <array>
#include <cmath>
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

/// Of a board of 1,180 x 760 mm with a line 16 mm wide from 140,610 to 340,180, and more.
RouteGraph graph_with(const std::string& more, const std::string& hints = {}) {
    const DrawnCourse d;
    return find_route_graph(d.svg("width=\"1180mm\" height=\"760mm\" viewBox=\"0 0 1180 760\"",
                                  "<rect width=\"1180\" height=\"760\" fill=\"#F2EFE6\"/><path d=\"M140,610 H870 "
                                  "A130,130 0 0 0 1000,480 V280 A100,100 0 0 0 900,180 H340\" fill=\"none\" "
                                  "stroke=\"#161514\" stroke-width=\"16\"/>" +
                                      more,
                                  hints));
}

std::size_t count(const RouteGraph& graph, NodeKind kind) {
    return static_cast<std::size_t>(
        std::count_if(graph.nodes.begin(), graph.nodes.end(), [kind](const Node& node) { return node.kind == kind; }));
}

double nearest_end(const RouteGraph& graph, Vec2 at) {
    double nearest = 1e9;
    for (const Node& node : graph.nodes) {
        nearest = node.kind == NodeKind::end ? std::min(nearest, length(node.at - at)) : nearest;
    }
    return nearest;
}

bool tells(const RouteGraph& graph, NotLineKind kind, Vec2 at) {
    return std::any_of(graph.not_lines.begin(), graph.not_lines.end(),
                       [&](const NotLine& it) { return it.kind == kind && length(it.at - at) < 12.0; });
}

constexpr double whole_mm = 730.0 + 65.0 * 3.14159265 + 200.0 + 50.0 * 3.14159265 + 560.0;

/// That it is one line between two ends, with the bend that it has.
void is_one_line(const RouteGraph& graph, double length_mm) {
    REQUIRE(graph.stretches.size() == 1);
    CHECK(count(graph, NodeKind::end) == 2);
    CHECK(graph.stretches[0].length_mm == doctest::Approx(length_mm).epsilon(0.01));
    CHECK(graph.stretches[0].tightest_mm == doctest::Approx(100.0).epsilon(0.06));
    CHECK(graph.stretches[0].bridges.empty());
}

} // namespace

TEST_CASE("a filled area in which a line ends is no part of it") {
    const RouteGraph graph = graph_with("<rect x=\"70\" y=\"566\" width=\"88\" height=\"92\" fill=\"#161514\"/>"
                                        "<circle cx=\"340\" cy=\"180\" r=\"47\" fill=\"#161514\"/>");
    is_one_line(graph, whole_mm - 18.0 - 47.0);
    CHECK(nearest_end(graph, {158.0, 610.0}) < 5.0);
    CHECK(nearest_end(graph, {387.0, 180.0}) < 5.0);
    CHECK(tells(graph, NotLineKind::dark_area, {114.0, 612.0}));
}

TEST_CASE("a bench against the tape leaves the line straight") {
    is_one_line(graph_with("<rect x=\"470\" y=\"520\" width=\"190\" height=\"83\" fill=\"#2A2826\"/>"), whole_mm);
    is_one_line(graph_with("<rect x=\"470\" y=\"520\" width=\"190\" height=\"83\" fill=\"#161514\"/>",
                           "line = { colour = \"#161514\", width_mm = 16 }\n"),
                whole_mm);
}

TEST_CASE("a bench inside a bend leaves the bend as it is, whether it touches the line, lies over its rim or over it" *
          doctest::skip(fixtures::sanitized())) {
    const std::string dark = " fill=\"#161514\"/>";
    for (const char* bench : {"<rect x=\"800\" y=\"214\" width=\"166\" height=\"200\"", // a corner at the rim
                              "<rect x=\"800\" y=\"235\" width=\"195\" height=\"95\"",  // over half of it
                              "<circle cx=\"922.6\" cy=\"257.4\" r=\"60\"",             // along it
                              "<circle cx=\"957.3\" cy=\"222.7\" r=\"14\"",             // no larger than the line
                              "<rect x=\"780\" y=\"214\" width=\"185.4\" height=\"132\""}) {
        CAPTURE(bench);
        is_one_line(graph_with(bench + dark), whole_mm);
        is_one_line(graph_with(bench + dark, "line = { width_mm = 16 }\n"), whole_mm);
    }
}

TEST_CASE("three lines that come to a filled area have it as their junction") {
    const RouteGraph graph = graph_with("<circle cx=\"560\" cy=\"610\" r=\"44\" fill=\"#161514\"/><path d=\"M560,610 "
                                        "V400\" stroke=\"#161514\" stroke-width=\"16\"/>");
    CHECK(graph.stretches.size() == 3);
    CHECK(count(graph, NodeKind::end) == 3);
}

TEST_CASE("thin strokes across a line are no junctions") {
    const RouteGraph graph = graph_with("<path d=\"M620,180 V390\" stroke=\"#161514\" stroke-width=\"5\"/><rect "
                                        "x=\"90\" y=\"520\" width=\"210\" height=\"170\" fill=\"none\" "
                                        "stroke=\"#161514\" stroke-width=\"3\"/>");
    is_one_line(graph, whole_mm);
    CHECK(count(graph, NodeKind::fork) + count(graph, NodeKind::crossing) == 0);
}

TEST_CASE("a thin frame round a line's end makes no bend of it, at whatever angle they cross") {
    const DrawnCourse d;
    for (const double turn : {9.0, 31.0, 57.0, 74.0}) {
        CAPTURE(turn);
        const RouteGraph graph = find_route_graph(d.svg(
            "width=\"900mm\" height=\"700mm\" viewBox=\"0 0 900 700\"",
            fmt::format(
                "<rect width=\"900\" height=\"700\" fill=\"#F2EFE6\"/><path d=\"M180,350 H720\" stroke=\"#161514\" "
                "stroke-width=\"14\"/><rect x=\"105\" y=\"275\" width=\"150\" height=\"150\" fill=\"none\" "
                "stroke=\"#161514\" stroke-width=\"1.9\" transform=\"rotate({} 180 350)\"/>",
                turn)));
        REQUIRE(graph.stretches.size() == 1);
        CHECK(graph.stretches[0].length_mm == doctest::Approx(540.0).epsilon(0.005));
        CHECK(std::isinf(graph.stretches[0].tightest_mm));
    }
}

TEST_CASE("a piece of line behind a gap stays line though a thin frame that hangs on it is longer") {
    const DrawnCourse d;
    const RouteGraph graph = find_route_graph(d.svg(
        "width=\"1100mm\" height=\"600mm\" viewBox=\"0 0 1100 600\"",
        "<rect width=\"1100\" height=\"600\" fill=\"#F2EFE6\"/><path d=\"M120,300 H760 M830,300 H925\" "
        "stroke=\"#161514\" stroke-width=\"21\"/><rect x=\"885\" y=\"215\" width=\"170\" height=\"170\" fill=\"none\" "
        "stroke=\"#161514\" stroke-width=\"2\"/>"));
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches[0].length_mm == doctest::Approx(805.0).epsilon(0.01));
    REQUIRE(graph.stretches[0].bridges.size() == 1);
    CHECK(std::abs(graph.stretches[0].bridges[0].length_mm - 70.0) < 3.0);
}

TEST_CASE("the line's colour is found where a bench has a shade of it") {
    // The bench is larger than all lines and lies, as a colour, between floor and line, as the shades of a line's rim
    // do.
    const DrawnCourse d;
    const Course course = d.svg(
        "width=\"900mm\" height=\"700mm\" viewBox=\"0 0 900 700\"",
        "<rect width=\"900\" height=\"700\" fill=\"#20242B\"/><rect x=\"300\" y=\"60\" width=\"420\" height=\"200\" "
        "fill=\"#C9C4B8\"/><path d=\"M100,350 H800 M450,350 V640\" stroke=\"#F2F0EA\" stroke-width=\"11\"/><circle "
        "cx=\"640\" cy=\"350\" r=\"19\" fill=\"#129A94\"/>");
    CHECK(course.line == Rgb{0xF2, 0xF0, 0xEA});
    CHECK(course.markers.size() == 1);
    CHECK(find_route_graph(course).stretches.size() == 3);
}

TEST_CASE("letters with strokes as wide as the line are lettering, unless the course takes them in") {
    // T, E, 2: of strokes; a lone A
    const std::string letters =
        "<g fill=\"none\" stroke=\"#161514\" stroke-width=\"15\"><path d=\"M330,320 h70 M365,320 v100\"/><path "
        "d=\"M490,320 h-60 v100 h60 M430,370 h50\"/><path d=\"M525,330 q30,-30 55,0 q10,30 -55,90 h65\"/><path "
        "d=\"M760,420 l38,-100 l38,100 M775,385 h46\"/></g>";
    const RouteGraph graph = graph_with(letters);
    is_one_line(graph, whole_mm);
    CHECK(tells(graph, NotLineKind::lettering, {460.0, 370.0}));
    const RouteGraph taken = graph_with(letters, "[[take_in]]\nfrom_mm = [740, 300]\nto_mm = [860, 440]\n");
    CHECK(taken.stretches.size() > 1);
}

TEST_CASE(
    "letters are lettering beside a short line, too: it reaches farther than each, though their strokes are as long") {
    const DrawnCourse d; // N, E
    const RouteGraph graph = find_route_graph(
        d.svg("width=\"620mm\" height=\"400mm\" viewBox=\"0 0 620 400\"",
              "<rect width=\"620\" height=\"400\" fill=\"#F2EFE6\"/><g fill=\"none\" stroke=\"#161514\" "
              "stroke-width=\"13\"><path d=\"M70,330 H250 A60,60 0 0 0 310,270 V130\"/><path d=\"M420,290 v-92 l56,92 "
              "v-92 M570,198 h-56 v92 h56 M514,244 h46\"/></g>"));
    CHECK(graph.stretches.size() == 1);
    CHECK(count(graph, NodeKind::end) == 2);
    CHECK(tells(graph, NotLineKind::lettering, {495.0, 244.0}));
}

TEST_CASE("a line at 45 degrees is found whole, whatever its width: none is thinned away") {
    struct Crossing {
        double width_mm;
        Vec2 at;
        std::array<double, 4> ways_deg;
    };
    const std::array crossings = {
        Crossing{28.0, {251.741, 248.140}, {44.951, 133.701, 223.737, 296.821}},
        Crossing{10.0, {249.403, 249.743}, {44.948, 153.332, 231.897, 315.084}},
        Crossing{21.0, {248.070, 248.239}, {45.182, 145.879, 224.295, 314.097}},
        Crossing{24.0, {249.074, 249.302}, {57.934, 135.021, 236.886, 315.244}},
        Crossing{27.0, {248.246, 249.048}, {72.382, 134.575, 223.971, 336.068}},
    };
    for (const Crossing& crossing : crossings) {
        CAPTURE(crossing.width_mm);
        std::string path;
        std::vector<Vec2> ends;
        for (const double way : crossing.ways_deg) {
            ends.push_back(crossing.at + 150.0 * Vec2{std::cos(to_radians(way)), std::sin(to_radians(way))});
            path += fmt::format("M {},{} L {},{} ", crossing.at.x, crossing.at.y, ends.back().x, ends.back().y);
        }
        const DrawnCourse d;
        const RouteGraph graph = find_route_graph(
            d.svg("width=\"500mm\" height=\"500mm\" viewBox=\"0 0 500 500\"",
                  fmt::format("<rect width=\"500\" height=\"500\" fill=\"#F2EFE6\"/><path d=\"{}\" fill=\"none\" "
                              "stroke=\"#161514\" stroke-width=\"{}\"/>",
                              path, crossing.width_mm)));
        CHECK(graph.stretches.size() == 4);
        for (const Vec2 end : ends) {
            CHECK(nearest_end(graph, end) < 2.0);
        }
    }
}

TEST_CASE("a wide coloured area with tape round it is read without harm" * doctest::skip(fixtures::sanitized())) {
    const DrawnCourse d; // its cells times the runs of floor round it are more than an int holds
    const Course course = d.svg("width=\"1700mm\" height=\"1700mm\" viewBox=\"0 0 1700 1700\"",
                                "<rect width=\"1700\" height=\"1700\" fill=\"#F2EFE6\"/><rect x=\"60\" y=\"60\" "
                                "width=\"1580\" height=\"1580\" fill=\"#148C82\" stroke=\"#161514\" "
                                "stroke-width=\"5\"/>",
                                "line = { colour = \"#161514\", width_mm = 5 }\nfloor = \"#F2EFE6\"\n");
    CHECK(find_route_graph(course).stretches.size() <= 1);
}

TEST_CASE("a line in dashes round bends is none of it lettering") {
    const RouteGraph graph = graph_with("<path d=\"M330,430 h90 A60,60 0 0 1 480,490\" fill=\"none\" "
                                        "stroke=\"#161514\" stroke-width=\"16\" stroke-dasharray=\"46 27\"/>");
    CHECK(graph.stretches.size() == 2);
    CHECK(std::none_of(graph.not_lines.begin(), graph.not_lines.end(),
                       [](const NotLine& it) { return it.kind == NotLineKind::lettering; }));
}

TEST_CASE("hair seams between strips are no gaps, and arcs that part at a narrow angle still do") {
    const DrawnCourse d;
    const std::string size = "width=\"900mm\" height=\"500mm\" viewBox=\"0 0 900 500\"";
    const RouteGraph strips = find_route_graph(
        d.svg(size, "<g transform=\"rotate(17 450 250)\" fill=\"#161514\"><rect x=\"130\" y=\"240\" width=\"290\" "
                    "height=\"19\"/><rect x=\"420.6\" y=\"240\" width=\"330\" height=\"19\"/></g>"));
    REQUIRE(strips.stretches.size() == 1);
    CHECK(strips.stretches[0].bridges.empty());
    CHECK(strips.stretches[0].length_mm == doctest::Approx(620.6).epsilon(0.005));
    const RouteGraph arcs = find_route_graph(
        d.svg(size, "<g fill=\"none\" stroke=\"#161514\" stroke-width=\"19\"><path d=\"M100,420 H500 A250,250 0 0 0 "
                    "750,170\"/><path d=\"M500,420 A130,130 0 0 0 630,290\"/></g>"));
    REQUIRE(count(arcs, NodeKind::fork) == 1);
    const auto fork = std::find_if(arcs.nodes.begin(), arcs.nodes.end(),
                                   [](const Node& node) { return node.kind == NodeKind::fork; });
    CHECK(length(fork->at - Vec2{500.0, 420.0}) < 10.0);
}

TEST_CASE("wide tape with round ends ends where it ends, and a ring with corners is as long as it is") {
    const DrawnCourse d;
    const RouteGraph round =
        find_route_graph(d.svg("width=\"700mm\" height=\"420mm\" viewBox=\"0 0 700 420\"",
                               "<path d=\"M120,310 H480 V100\" fill=\"none\" stroke=\"#161514\" stroke-width=\"48\" "
                               "stroke-linecap=\"round\" stroke-linejoin=\"round\"/>"));
    CHECK(nearest_end(round, {96.0, 310.0}) < 3.0);
    CHECK(nearest_end(round, {480.0, 76.0}) < 3.0);
    const RouteGraph ring = find_route_graph(
        d.svg("width=\"420mm\" height=\"420mm\" viewBox=\"0 0 420 420\"",
              "<path d=\"M110,120 h90 v-40 h90 v240 h-180 Z\" fill=\"none\" stroke=\"#161514\" stroke-width=\"19\" "
              "stroke-linejoin=\"round\"/>"));
    REQUIRE(ring.stretches.size() == 1);
    CHECK(ring.stretches[0].length_mm == doctest::Approx(840.0).epsilon(0.012));
}

TEST_CASE("a bend that tightens and eases again is told at its tightest") {
    std::string wave = "M100,260";
    constexpr double k = 2.0 * 3.14159265 / 390.0;
    for (int x = 1; x <= 700; ++x) {
        wave += fmt::format(" L{},{:.3f}", 100 + x, 260.0 - 70.0 * std::sin(k * x));
    }
    const DrawnCourse d;
    const RouteGraph graph =
        find_route_graph(d.svg("width=\"900mm\" height=\"520mm\" viewBox=\"0 0 900 520\"",
                               "<path d=\"" + wave + "\" fill=\"none\" stroke=\"#161514\" stroke-width=\"15\"/>"));
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches[0].tightest_mm == doctest::Approx(1.0 / (70.0 * k * k)).epsilon(0.07));
}

TEST_CASE("a bend that tightens to a point and eases behind it is told at that point") {
    // Two curves that each tighten to 91.9 mm where they meet, 10 mm before it still 111: as drawing programs join
    // them.
    const DrawnCourse d;
    const RouteGraph graph = find_route_graph(
        d.svg("width=\"640mm\" height=\"600mm\" viewBox=\"0 0 640 600\"",
              "<rect width=\"640\" height=\"600\" fill=\"#F2EFE6\"/><path d=\"M150,110 C380,100 460,230 "
              "460,300 C460,370 380,500 150,490\" fill=\"none\" stroke=\"#161514\" stroke-width=\"21\"/>"));
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches[0].tightest_mm == doctest::Approx(96.5).epsilon(0.1));
}

TEST_CASE("a spiral is told at its innermost turn, an arc that a line ends with as it is") {
    const DrawnCourse d;
    const auto tightest = [&](const std::string& path) {
        const RouteGraph graph =
            find_route_graph(d.svg("width=\"620mm\" height=\"560mm\" viewBox=\"0 0 620 560\"",
                                   "<path d=\"" + path + "\" fill=\"none\" stroke=\"#161514\" stroke-width=\"15\"/>"));
        REQUIRE(graph.stretches.size() == 1);
        return graph.stretches[0].tightest_mm;
    };
    const auto spiral = [](double inner, double grow) { // from the inside, one and a half turns
        std::string path;
        for (double t = 0.0; t < 9.42; t += 0.02) {
            const double r = inner + grow * t;
            path += fmt::format("{}{:.3f},{:.3f} ", path.empty() ? "M" : "L", 300.0 + r * std::cos(t),
                                280.0 + r * std::sin(t));
        }
        return path;
    };
    for (const auto& one : {std::pair{33.0, 9.0}, {47.0, 11.0}, {64.0, 14.0}}) {
        const double inner = one.first; // of its innermost turn, and by how much it grows in a radian
        const double grow = one.second;
        CAPTURE(inner);
        const double first = inner + grow * 7.5 / inner; // but for the last half width
        const double true_mm = std::pow(first * first + grow * grow, 1.5) / (first * first + 2.0 * grow * grow);
        CHECK(tightest(spiral(inner, grow)) == doctest::Approx(true_mm).epsilon(0.07));
    }
    CHECK(tightest("M90,300 H300 A72,72 0 0 1 372,372 V372") == doctest::Approx(72.0).epsilon(0.06));
    CHECK(tightest("M90,300 H300 A45,45 0 1 1 255,345") == doctest::Approx(45.0).epsilon(0.06));
}

TEST_CASE("a board that covers a fifth of its page is found by its outline") {
    const DrawnCourse d;
    const Course course = d.svg(
        "width=\"1300mm\" height=\"900mm\" viewBox=\"0 0 1300 900\"",
        "<rect width=\"1300\" height=\"900\" fill=\"#FFF\"/><rect x=\"170\" y=\"210\" width=\"760\" height=\"300\" "
        "fill=\"#FFF\" stroke=\"#222\" stroke-width=\"1.5\"/><path d=\"M240,420 H620 A90,90 0 0 0 710,330 V260\" "
        "fill=\"none\" stroke=\"#161514\" stroke-width=\"18\"/><rect x=\"170\" y=\"640\" width=\"150\" height=\"18\" "
        "fill=\"#161514\"/>");
    REQUIRE(course.board.has_value());
    CHECK(find_route_graph(course).stretches.size() == 1);
}

TEST_CASE("a small board whose line is by far the largest thing on its page is found, whatever stands beside it") {
    const std::string outside = // a title in heavy letters, a legend with plates, a title block
        "<rect width=\"790\" height=\"910\" fill=\"#FBFAF5\"/><path d=\"M230,40 v40 m25,-40 v40 m25,-40 v40 m25,-40 "
        "v40 "
        "m25,-40 v40 m25,-40 v40 m25,-40 v40 m25,-40 v40 m25,-40 v40\" stroke=\"#111\" stroke-width=\"12\"/>"
        "<rect x=\"224\" y=\"760\" width=\"160\" height=\"9\" fill=\"#23211F\"/>"
        "<rect x=\"430\" y=\"760\" width=\"40\" height=\"40\" fill=\"#E69A17\"/>"
        "<rect x=\"520\" y=\"760\" width=\"40\" height=\"40\" fill=\"#148C82\"/>"
        "<rect x=\"610\" y=\"760\" width=\"40\" height=\"40\" fill=\"#C23A86\"/>"
        "<path d=\"M450,810 h300 v80 h-300 z m0,40 h300 m-150,-40 v80\" fill=\"none\" stroke=\"#111\" "
        "stroke-width=\"2\"/>";
    const std::string board = "<rect x=\"224\" y=\"250\" width=\"437\" height=\"415\" fill=\"#EFECE4\" stroke=\"#111\" "
                              "stroke-width=\"1.2\"/>";
    const std::string head = "width=\"790mm\" height=\"910mm\" viewBox=\"0 0 790 910\"";
    const std::string colours = "[palette]\namber = \"#E69A17\"\nteal = \"#148C82\"\nmagenta = \"#C23A86\"\n";
    const DrawnCourse d;
    const Course course =
        d.svg(head,
              outside + board +
                  "<path d=\"M270,600 H420 V350 A40,40 0 0 1 500,350 V560 A40,40 0 0 0 580,560 V330\" "
                  "fill=\"none\" stroke=\"#23211F\" stroke-width=\"9\"/>",
              colours);
    REQUIRE(course.board.has_value());
    CHECK(course.markers.empty()); // those of the legend are none
    CHECK(find_route_graph(course).stretches.size() == 1);

    // A tank in a frame is not the course, which lies beside it.
    const Course beside =
        d.svg(head,
              "<rect width=\"790\" height=\"910\" fill=\"#FBFAF5\"/>" + board +
                  "<rect x=\"300\" y=\"300\" width=\"250\" height=\"250\" fill=\"#23211F\"/>"
                  "<path d=\"M60,60 V800 H720\" fill=\"none\" stroke=\"#23211F\" stroke-width=\"9\"/>",
              colours);
    CHECK(!beside.board.has_value());
}
