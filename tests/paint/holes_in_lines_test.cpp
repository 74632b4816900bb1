/// What is drawn upon lines: dots on junctions, scratches, and outlines that go over them.

#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/drawn_course.hpp"
#include "vast_turn/base/geometry.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

using namespace vast_turn;
using fixtures::DrawnCourse;

namespace {

constexpr double tape_wide_mm = 19.0;

/// A bench aisle with a T, a crossing and a bend, and what else is drawn; on dark floor a light line.
RouteGraph aisle_with(const std::string& more, bool dark = false) {
    const DrawnCourse d;
    return find_route_graph(d.svg(
        "width=\"930mm\" height=\"610mm\" viewBox=\"0 0 930 610\"",
        fmt::format("<rect width=\"930\" height=\"610\" fill=\"{}\"/><path d=\"M90,310 H700 A110,110 0 0 0 810,200 "
                    "V70 M460,310 V520 M240,90 V550\" fill=\"none\" stroke=\"{}\" stroke-width=\"{}\"/>{}",
                    dark ? "#1F2421" : "#F2EFE6", dark ? "#F2EFE6" : "#161514", tape_wide_mm, more),
        "[palette]\namber = \"#E69A17\"\n"));
}

std::string dot(Vec2 at, double across_mm, const std::string& fill) {
    return fmt::format("<circle cx=\"{}\" cy=\"{}\" r=\"{}\" fill=\"{}\"/>", at.x, at.y, 0.5 * across_mm, fill);
}

/// The same lines, of the same length, meeting at the same points, without gaps.
void check_is_the_aisle(const RouteGraph& graph) {
    static const RouteGraph plain = aisle_with("");
    REQUIRE(graph.nodes.size() == plain.nodes.size());
    REQUIRE(graph.stretches.size() == plain.stretches.size());
    for (std::size_t i = 0; i < graph.nodes.size(); ++i) {
        CHECK(graph.nodes[i].kind == plain.nodes[i].kind);
        CHECK(length(graph.nodes[i].at - plain.nodes[i].at) < 1.5);
    }
    for (std::size_t i = 0; i < graph.stretches.size(); ++i) {
        CHECK(graph.stretches[i].length_mm == doctest::Approx(plain.stretches[i].length_mm).epsilon(0.01));
        CHECK(graph.stretches[i].bridges.empty());
    }
}

} // namespace

TEST_CASE("dots of the floor's colour on a line, its ends and its junctions part nothing") {
    for (const bool dark : {false, true}) {
        for (const double part : dark ? std::vector{0.5} : std::vector{0.16, 0.33, 0.6, 0.78}) {
            CAPTURE(dark);
            CAPTURE(part);
            const std::string floor = dark ? "#1F2421" : "#F2EFE6";
            std::string dots;
            for (const Vec2 at : {Vec2{240, 310},
                                  {460, 310},
                                  {350, 310},
                                  {590, 310},
                                  {777.8, 277.8},
                                  {240, 150},
                                  {240, 535},
                                  {104, 310},
                                  {461.5, 420}}) {
                dots += dot(at, part * tape_wide_mm, floor);
            }
            check_is_the_aisle(aisle_with(dots, dark));
        }
    }
}

TEST_CASE("a scratch along the tape is no way of its own") {
    check_is_the_aisle(aisle_with("<path d=\"M570,309 H690 M240,360 v70 M455,400 l9,90\" stroke=\"#F2EFE6\" "
                                  "stroke-width=\"3\"/>"));
}

TEST_CASE("dashes painted along a line's middle are no ways and no gaps") {
    struct Dashed {
        const char* dashes;
        double across_mm;
    };
    for (const Dashed& dashed : {Dashed{"9 9", 1.5}, {"14 22", 3.0}, {"30 12", 2.0}}) {
        CAPTURE(dashed.dashes);
        check_is_the_aisle(
            aisle_with(fmt::format("<path d=\"M107,310 H420 M480,310 H700 A110,110 0 0 0 810,200 V90 M460,340 V500 "
                                   "M240,110 V280 M240,340 V530\" fill=\"none\" stroke=\"#F2EFE6\" "
                                   "stroke-width=\"{}\" stroke-dasharray=\"{}\"/>",
                                   dashed.across_mm, dashed.dashes)));
    }
}

TEST_CASE("floor between lines stays: a small roundabout, a triangle of lines, a loop that comes back close by") {
    for (const double inner_mm : {16.0, 27.0}) {
        CAPTURE(inner_mm);
        const RouteGraph ring = aisle_with(fmt::format(
            "<path d=\"M600,460 H{0} M{1},460 H830\" stroke=\"#161514\" stroke-width=\"19\"/><circle cx=\"715\" "
            "cy=\"460\" r=\"{2}\" fill=\"none\" stroke=\"#161514\" stroke-width=\"19\"/>",
            715.0 - 0.5 * inner_mm, 715.0 + 0.5 * inner_mm, 0.5 * (inner_mm + tape_wide_mm)));
        CHECK(ring.nodes.size() == aisle_with("").nodes.size() + 4);
    }
    const RouteGraph triangle =
        aisle_with("<path d=\"M560,560 L700,420 M840,560 L700,420 M560,560 H840\" fill=\"none\" "
                   "stroke=\"#161514\" stroke-width=\"19\" stroke-linecap=\"round\"/>");
    CHECK(triangle.stretches.size() == aisle_with("").stretches.size() + 1);
    const RouteGraph loop =
        aisle_with("<rect x=\"560\" y=\"450\" width=\"270\" height=\"26\" rx=\"13\" fill=\"none\" stroke=\"#161514\" "
                   "stroke-width=\"19\"/>");
    CHECK(loop.stretches.size() == aisle_with("").stretches.size() + 1);
}

TEST_CASE("the empty fields of a scale are not filled, nor a frame with something written in it") {
    const auto outline = [](int x) {
        return fmt::format("<rect x=\"{}\" y=\"540\" width=\"57\" height=\"17\" fill=\"{}\" stroke=\"#161514\" "
                           "stroke-width=\"1\"/>",
                           x, x % 2 == 0 ? "#161514" : "#F2EFE6");
    };
    const RouteGraph scale = aisle_with(outline(520) + outline(577) + outline(634) + outline(691));
    CHECK(scale.stretches.size() <= aisle_with("").stretches.size() + 1); // of its two full fields a dashed line
    for (const Stretch& stretch : scale.stretches) {
        CHECK(stretch.length_mm != doctest::Approx(228.0).epsilon(0.02));
    }
    check_is_the_aisle(
        aisle_with("<rect x=\"540\" y=\"440\" width=\"150\" height=\"120\" fill=\"none\" stroke=\"#161514\" "
                   "stroke-width=\"3\"/><path d=\"M570,470 h24 v24 h-24 z M610,480 l18,22\" fill=\"none\" "
                   "stroke=\"#161514\" stroke-width=\"5\"/>"));
}

TEST_CASE("what a heavy letter goes round is not filled because another stands beside it") {
    const RouteGraph graph = aisle_with("<path d=\"M576,453 h49 v82 h-49 z M651,545 L675,440 L699,545 M660,516 h30\" "
                                        "fill=\"none\" stroke=\"#161514\" stroke-width=\"15\"/>");
    check_is_the_aisle(graph);
    REQUIRE(graph.not_lines.size() == 1);
    CHECK(graph.not_lines.front().kind == NotLineKind::lettering);
}

TEST_CASE("coloured outlines over lines are no gaps") {
    for (const double stroke_mm : {2.0, 5.0}) {
        CAPTURE(stroke_mm);
        check_is_the_aisle(aisle_with(fmt::format("<g fill=\"none\" stroke-width=\"{}\"><rect x=\"560\" y=\"260\" "
                                                  "width=\"97\" height=\"98\" stroke=\"#C03030\"/>"
                                                  "<circle cx=\"240\" cy=\"310\" r=\"63\" stroke=\"#3050C0\"/><path "
                                                  "d=\"M430,410 h60\" stroke=\"#C03030\"/></g>",
                                                  stroke_mm)));
    }
    const RouteGraph barred = aisle_with("<path d=\"M620,280 v60\" stroke=\"#C03030\" stroke-width=\"23\"/>");
    int bridges = 0;
    for (const Stretch& stretch : barred.stretches) {
        for (const Bridge& bridge : stretch.bridges) {
            CHECK(bridge.length_mm == doctest::Approx(23.0).epsilon(0.15));
            ++bridges;
        }
    }
    CHECK(bridges == 1);
}
