/// Plates painted over junctions, beside them, and over lines' rims.

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <map>
#include <random>
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

/// Numbers of a seed.
class PlateDice {
public:
    explicit PlateDice(std::uint32_t seed) : random_(seed) {}

    double from_to(double low, double high) {
        return low + (high - low) * static_cast<double>(random_()) / 4294967296.0;
    }
    std::size_t below(std::size_t n) { return static_cast<std::size_t>(from_to(0.0, static_cast<double>(n))); }

private:
    std::mt19937 random_;
};

/// Lines that meet at a point in the middle of the bench, or pass there side by side.
std::string lines_that_meet(PlateDice& dice, double wide_mm) {
    constexpr Vec2 middle{320, 235};
    const double turned_deg = dice.below(2) == 0 ? 90.0 * static_cast<double>(dice.below(4)) : dice.from_to(0, 360);
    const auto at = [&](double far_mm, double deg) { return middle + far_mm * direction(turned_deg + deg); };
    std::string path;
    const auto add = [&](double far_mm, double deg) {
        const Vec2 end = at(far_mm, deg);
        path += fmt::format("M{},{} L{},{} ", middle.x, middle.y, end.x, end.y);
    };
    const double reach_mm = dice.from_to(135.0, 175.0);
    const std::size_t kind = dice.below(6);
    const double askew_deg = dice.from_to(48.0, 132.0);
    if (kind < 3) { // a fork, square or askew, or a crossing
        add(reach_mm, 0.0);
        add(reach_mm, 180.0);
        add(reach_mm, kind == 0 ? 90.0 : askew_deg);
        if (kind == 2) {
            add(reach_mm, askew_deg + 180.0);
        }
    } else if (kind == 3) { // one that parts in two
        const double half_deg = dice.from_to(28.0, 60.0);
        add(reach_mm, 180.0);
        add(reach_mm, half_deg);
        add(reach_mm, -half_deg);
    } else if (kind == 4) {
        for (int i = 0; i < 5; ++i) {
            add(reach_mm, 72.0 * i + dice.from_to(-12.0, 12.0));
        }
    } else { // side by side
        const double apart_mm = wide_mm * dice.from_to(1.6, 3.0) + 3.0;
        for (const double aside_mm : {-0.5 * apart_mm, 0.5 * apart_mm}) {
            const Vec2 off = aside_mm * direction(turned_deg + 90.0);
            const Vec2 from = at(reach_mm, 180.0) + off;
            const Vec2 to = at(reach_mm, 0.0) + off;
            path += fmt::format("M{},{} L{},{} ", from.x, from.y, to.x, to.y);
        }
    }
    return path;
}

struct PlateHits {
    int there = 0;
    int found = 0;
    int said = 0;
    int right = 0;
};

/// Ends and junctions of the one that the other has within 5 mm, with as many ways.
int nodes_shared(const RouteGraph& of, const RouteGraph& with) {
    return static_cast<int>(std::count_if(of.nodes.begin(), of.nodes.end(), [&](const Node& node) {
        return std::any_of(with.nodes.begin(), with.nodes.end(), [&](const Node& other) {
            return other.kind == node.kind && length(other.at - node.at) < 5.0;
        });
    }));
}

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

TEST_CASE("plates anywhere near junctions: most are found where they are") {
    PlateHits hits;
    const int courses = fixtures::rounds(400, 16, 2);
    for (int seed = 0; seed < courses; ++seed) {
        PlateDice dice(static_cast<std::uint32_t>(seed) + 61'000U);
        constexpr std::array wide_mm{9.0, 13.0, 17.0, 21.0, 26.0, 33.0};
        const double wide = wide_mm[dice.below(wide_mm.size())];
        const std::string lines = lines_that_meet(dice, wide);
        const bool dark = dice.below(4) == 0;
        std::string plates;
        const std::size_t count = 1 + dice.below(4) / 3;
        Vec2 before{-500.0, -500.0};
        for (std::size_t i = 0; i < count; ++i) {
            const double side = std::clamp(dice.from_to(1.2, 3.2) * wide, 15.0, 70.0);
            const double far = i == 0 && dice.below(3) == 0 ? 0.0 : dice.from_to(0.0, 75.0);
            const Vec2 at = Vec2{320, 235} + far * direction(dice.from_to(0.0, 360.0));
            if (length(at - before) > 110.0 || i == 0) {
                plates += dice.below(3) == 0 ? disc_at(at, side) : plate_at(at, side, dice.from_to(0.0, 90.0));
                before = at;
            }
        }
        const RouteGraph bare = bench_with(lines, wide, "", dark);
        const RouteGraph graph = bench_with(lines, wide, plates, dark);
        const int found = nodes_shared(bare, graph);
        const int right = nodes_shared(graph, bare);
        hits.there += static_cast<int>(bare.nodes.size());
        hits.said += static_cast<int>(graph.nodes.size());
        hits.found += found;
        hits.right += right;
        if (std::getenv("VTURN_TELL") != nullptr &&
            (found < static_cast<int>(bare.nodes.size()) || right < static_cast<int>(graph.nodes.size()))) {
            MESSAGE(seed, " wide ", wide, ": ", lines, " ", plates);
        }
    }
    MESSAGE("ends and junctions there ", hits.found, " of ", hits.there, ", none false ", hits.right, " of ",
            hits.said);
    CHECK(hits.found >= 0.96 * hits.there - 1.0);
    CHECK(hits.right >= 0.96 * hits.said - 1.0);
}
