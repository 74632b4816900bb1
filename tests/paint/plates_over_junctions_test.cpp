/// Plates painted over junctions, beside them, and over lines' rims.

#include <cmath>
#include <map>
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

/// All of them in all rounds, else the first two, or the first.
std::vector<double> some_of(std::vector<double> all) {
    all.resize(static_cast<std::size_t>(fixtures::rounds(static_cast<int>(all.size()), 2, 1)));
    return all;
}

RouteGraph bench_with(const std::string& lines, double wide_mm, const std::string& plates, bool dark = false) {
    const DrawnCourse d;
    return find_route_graph(
        d.svg("width=\"640mm\" height=\"470mm\" viewBox=\"0 0 640 470\"",
              fmt::format("<rect width=\"640\" height=\"470\" fill=\"{}\"/><path d=\"{}\" fill=\"none\" stroke=\"{}\" "
                          "stroke-width=\"{}\"/>{}",
                          dark ? "#1F2421" : "#F2EFE6", lines, dark ? "#F2EFE6" : "#161514", wide_mm, plates),
              "[palette]\namber = \"#E69A17\"\nteal = \"#148C82\"\n"));
}

std::string plate_at(Vec2 at, double side_mm, double askew_deg = 0.0, const std::string& colour = "#E69A17") {
    return fmt::format(
        "<rect x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" fill=\"{}\" transform=\"rotate({} {} {})\"/>",
        at.x - 0.5 * side_mm, at.y - 0.5 * side_mm, side_mm, side_mm, colour, askew_deg, at.x, at.y);
}

std::string disc_at(Vec2 at, double across_mm) {
    return fmt::format("<circle cx=\"{}\" cy=\"{}\" r=\"{}\" fill=\"#148C82\"/>", at.x, at.y, 0.5 * across_mm);
}

/// The same junctions and ends, within 3 mm, and lines of the same length as without plates.
void check_is_as_bare(const std::string& lines, double wide_mm, const std::string& plates, bool dark = false) {
    CAPTURE(lines);
    CAPTURE(plates);
    CAPTURE(wide_mm);
    static std::map<std::string, RouteGraph> bare_of; // they are asked again and again
    if (bare_of.count(lines) == 0) {
        bare_of.emplace(lines, bench_with(lines, wide_mm, ""));
    }
    const RouteGraph& bare = bare_of.at(lines);
    const RouteGraph graph = bench_with(lines, wide_mm, plates, dark);
    REQUIRE(graph.nodes.size() == bare.nodes.size());
    REQUIRE(graph.stretches.size() == bare.stretches.size());
    for (std::size_t i = 0; i < graph.nodes.size(); ++i) {
        CHECK(graph.nodes[i].kind == bare.nodes[i].kind);
        CHECK(length(graph.nodes[i].at - bare.nodes[i].at) < 3.0);
    }
    for (std::size_t i = 0; i < graph.stretches.size(); ++i) {
        CHECK(std::abs(graph.stretches[i].length_mm - bare.stretches[i].length_mm) < 3.0);
        for (const Bridge& bridge : graph.stretches[i].bridges) {
            CHECK_FALSE(bridge.marker.empty());
        }
    }
}

const std::string t_aisles = "M70,210 H570 M310,210 V400";
const std::string x_aisles = "M70,210 H570 M310,60 V400";
const std::string y_aisles = "M70,210 H310 L540,110 M310,210 L540,320";
const std::string star_aisles =
    "M310,210 L476,244 M310,210 L339,377 M310,210 L174,312 M310,210 L187,93 M310,210 L390,60";
const std::string tangent_aisles = "M70,210 H570 M150,210 H270 A83,83 0 0 1 353,293 V400";

} // namespace

TEST_CASE("a plate painted over a junction hides none of it") {
    for (const std::string& lines : {t_aisles, x_aisles, y_aisles, star_aisles}) {
        for (const double side_mm : some_of({43.0, 27.0, 58.0, 35.0, 51.0})) {
            check_is_as_bare(lines, 17.0, plate_at({310, 210}, side_mm));
            check_is_as_bare(lines, 17.0, plate_at({312, 207}, side_mm, 21.0), true);
            check_is_as_bare(lines, 17.0, disc_at({308, 211}, side_mm));
        }
    }
}

TEST_CASE("a plate over the point where a bend leaves a line moves the fork by little") {
    for (const double side_mm : {31.0, 44.0, 56.0}) {
        check_is_as_bare(tangent_aisles, 17.0, plate_at({297, 214}, side_mm));
    }
}

TEST_CASE("plates before, beside and partly over a junction leave it where it is") {
    for (const double off_mm : some_of({-5.0, 0.0, -12.0, 3.0, 8.0})) {
        for (const double side_mm : {24.0, 41.0}) {
            const double away_mm = 8.5 + off_mm + 0.5 * side_mm;
            check_is_as_bare(t_aisles, 17.0, plate_at({310, 210 + away_mm}, side_mm));
            check_is_as_bare(t_aisles, 17.0, plate_at({310 + away_mm, 210}, side_mm));
            check_is_as_bare(x_aisles, 17.0, plate_at({310 - away_mm, 210}, side_mm));
            check_is_as_bare(x_aisles, 17.0, plate_at({310 + away_mm, 210 - away_mm}, side_mm, 8.0));
        }
    }
}

TEST_CASE("a plate over lines that run beside one another parts none of them, and one that bites a rim bends none") {
    for (const double apart_mm : {28.0, 37.0, 46.0}) {
        const std::string three = fmt::format("M70,{} H570 M70,210 H570 M70,{} H570", 210 - apart_mm, 210 + apart_mm);
        check_is_as_bare(three, 17.0, plate_at({300, 210}, 2.0 * apart_mm + 30.0));
        check_is_as_bare(three, 17.0, plate_at({300, 212}, 1.6 * apart_mm, 30.0));
    }
    for (const double bite_mm : {3.0, 8.0, 13.0}) {
        const RouteGraph graph = bench_with("M70,210 H570", 17.0, plate_at({300, 201.5 + bite_mm - 20.0}, 40.0));
        REQUIRE(graph.stretches.size() == 1);
        CHECK(graph.stretches[0].length_mm == doctest::Approx(500.0).epsilon(0.002));
        CHECK(graph.stretches[0].tightest_mm > 500.0);
    }
}

TEST_CASE("two plates at one junction are looked through one after the other") {
    check_is_as_bare(t_aisles, 17.0, plate_at({310, 210}, 40.0) + plate_at({310, 264}, 34.0, 0.0, "#148C82"));
    check_is_as_bare(x_aisles, 17.0, plate_at({286, 210}, 36.0) + disc_at({336, 210}, 40.0));
}

TEST_CASE("an outline round a junction, and a plate at which a line ends, make none") {
    const std::string ring = "<circle cx=\"310\" cy=\"210\" r=\"44\" fill=\"none\" stroke=\"#E69A17\" "
                             "stroke-width=\"5\"/>";
    const RouteGraph ringed = bench_with(t_aisles, 17.0, ring);
    CHECK(ringed.nodes.size() == 4);
    const RouteGraph dock = bench_with("M70,210 H290", 17.0, plate_at({300, 210}, 50.0));
    REQUIRE(dock.nodes.size() == 2);
    CHECK(dock.nodes[1].kind == NodeKind::end);
}
