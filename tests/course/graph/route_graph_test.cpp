#include "vast_turn/course/graph/route_graph.hpp"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <map>

#include <doctest/doctest.h>

#include "course/graph/random_course.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/base/noise.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/paint/surface.hpp"

using namespace vast_turn;

namespace {

int count(const RouteGraph& graph, NodeKind kind) {
    return static_cast<int>(
        std::count_if(graph.nodes.begin(), graph.nodes.end(), [&](const Node& n) { return n.kind == kind; }));
}

const Node& only(const RouteGraph& graph, NodeKind kind) {
    REQUIRE(count(graph, kind) == 1);
    return *std::find_if(graph.nodes.begin(), graph.nodes.end(), [&](const Node& n) { return n.kind == kind; });
}

double apart(Vec2 a, Vec2 b) { return length(a - b); }

/// How a found graph differs from the one that was drawn.
struct Differences {
    int missed = 0;    ///< nodes without a found one of the same degree within 10 mm
    int added = 0;     ///< found nodes that are none
    int stretches = 0; ///< not found between their nodes within 2 % of their length
};

Differences differences(const fixtures::KnownGraph& known, const RouteGraph& graph) {
    Differences out;
    std::vector<int> known_as(graph.nodes.size(), -1);
    for (std::size_t i = 0; i < known.nodes.size(); ++i) {
        std::size_t best = graph.nodes.size();
        for (std::size_t j = 0; j < graph.nodes.size(); ++j) {
            const bool fits = known_as[j] < 0 && static_cast<int>(graph.nodes[j].exits.size()) == known.degrees[i] &&
                              apart(graph.nodes[j].at, known.nodes[i]) <= 10.0;
            best = fits && best == graph.nodes.size() ? j : best;
        }
        best == graph.nodes.size() ? void(++out.missed) : void(known_as[best] = static_cast<int>(i));
    }
    for (std::size_t j = 0; j < graph.nodes.size(); ++j) {
        out.added += known_as[j] < 0 && graph.nodes[j].kind != NodeKind::seam ? 1 : 0;
    }
    std::multimap<std::pair<int, int>, double> found;
    for (const Stretch& stretch : graph.stretches) {
        found.emplace(std::minmax(known_as[stretch.from.index()], known_as[stretch.to.index()]), stretch.length_mm);
    }
    for (const fixtures::KnownStretch& stretch : known.stretches) {
        const auto [from, to] = found.equal_range(std::minmax(stretch.from, stretch.to));
        const auto match = std::find_if(from, to, [&](const auto& f) {
            return std::abs(f.second - stretch.length_mm) <= 0.02 * stretch.length_mm;
        });
        match == to ? void(++out.stretches) : void(found.erase(match));
    }
    return out;
}

} // namespace

TEST_CASE("tape of 10 to 50 mm: a line has its two ends, its length, its width, and no bend") {
    for (const double width : {10.0, 14.0, 19.0, 27.0, 38.0, 50.0}) {
        CAPTURE(width);
        const RouteGraph graph = find_route_graph(fixtures::board({"M 120,310 L 860,250"}, width));
        REQUIRE(graph.stretches.size() == 1);
        REQUIRE(graph.nodes.size() == 2);
        CHECK(graph.stretches[0].length_mm == doctest::Approx(742.43).epsilon(0.005));
        CHECK(graph.stretches[0].width_mm == doctest::Approx(width).epsilon(0.03));
        CHECK(std::isinf(graph.stretches[0].tightest_mm));
        CHECK(apart(graph.nodes[0].at, {860.0, 250.0}) < 3.0);
        CHECK(apart(graph.nodes[1].at, {120.0, 310.0}) < 3.0);
    }
}

TEST_CASE("two lines that cross at a shallow angle are one crossing of four") {
    for (const double degrees : {90.0, 60.0, 40.0, 30.0, 22.0}) {
        CAPTURE(degrees);
        const double rise = 340.0 * std::tan(to_radians(0.5 * degrees));
        const std::string up = std::to_string(300.0 - std::min(rise, 240.0));
        const std::string down = std::to_string(300.0 + std::min(rise, 240.0));
        const double run = std::min(rise, 240.0) / std::tan(to_radians(0.5 * degrees));
        const std::string left = std::to_string(500.0 - run);
        const std::string right = std::to_string(500.0 + run);
        const RouteGraph graph =
            find_route_graph(fixtures::board({"M " + left + "," + up + " L " + right + "," + down,
                                              "M " + left + "," + down + " L " + right + "," + up}));
        CHECK(graph.nodes.size() == 5);
        CHECK(graph.stretches.size() == 4);
        CHECK(apart(only(graph, NodeKind::crossing).at, {500.0, 300.0}) < 3.0);
    }
}

TEST_CASE("a junction of five, with its ways out counter-clockwise") {
    const RouteGraph graph =
        find_route_graph(fixtures::board({"M 500,300 H 850", "M 500,300 L 640,60", "M 500,300 L 280,130",
                                          "M 500,300 L 300,500", "M 500,300 L 610,560"}));
    const Node& star = only(graph, NodeKind::star);
    CHECK(apart(star.at, {500.0, 300.0}) < 3.0);
    REQUIRE(star.exits.size() == 5);
    const double expected[] = {0.0, 59.7, 142.3, 225.0, 293.0};
    for (std::size_t i = 0; i < 5; ++i) {
        CHECK(std::abs(std::remainder(star.exits[i].heading_deg - expected[i], 360.0)) < 3.0);
    }
    CHECK(count(graph, NodeKind::end) == 5);
}

TEST_CASE("a fork and a T, at right angles and where a bend leaves a straight") {
    const RouteGraph t = find_route_graph(fixtures::board({"M 100,300 H 900", "M 420,300 V 80"}));
    CHECK(apart(only(t, NodeKind::fork).at, {420.0, 300.0}) < 2.0);
    const RouteGraph y =
        find_route_graph(fixtures::board({"M 100,300 H 500", "M 500,300 L 850,120", "M 500,300 L 850,480"}));
    CHECK(apart(only(y, NodeKind::fork).at, {500.0, 300.0}) < 3.0);
    // A bend leaves a straight by its tangent: the eye sees the fork only where they part.
    const RouteGraph bend = find_route_graph(fixtures::board({"M 100,300 H 900", "M 400,300 A 220,220 0 0 0 620,80"}));
    const Node& fork = only(bend, NodeKind::fork);
    CHECK(std::abs(fork.at.y - 300.0) < 3.0);
    CHECK(fork.at.x > 400.0);
    CHECK(fork.at.x < 500.0);
}

TEST_CASE("parallel lines 15 mm apart stay two lines") {
    const RouteGraph graph = find_route_graph(fixtures::board({"M 100,300 H 900", "M 100,334 H 900"}));
    CHECK(graph.nodes.size() == 4);
    REQUIRE(graph.stretches.size() == 2);
    for (const Stretch& stretch : graph.stretches) {
        CHECK(stretch.length_mm == doctest::Approx(800.0).epsilon(0.005));
        CHECK(stretch.widest_mm < 20.0);
        CHECK(stretch.bridges.empty());
    }
}

TEST_CASE("a roundabout with three roads, and a ring with none") {
    const std::string ring = "M 620,300 A 120,120 0 1 1 380,300 A 120,120 0 1 1 620,300 Z";
    const RouteGraph round =
        find_route_graph(fixtures::board({ring, "M 620,300 H 900", "M 380,300 H 80", "M 500,180 V 30"}));
    CHECK(count(round, NodeKind::fork) == 3);
    CHECK(count(round, NodeKind::end) == 3);
    CHECK(round.stretches.size() == 6);
    const RouteGraph alone = find_route_graph(fixtures::board({ring}));
    REQUIRE(alone.stretches.size() == 1);
    CHECK(only(alone, NodeKind::seam).exits.size() == 2);
    CHECK(alone.stretches[0].length_mm == doctest::Approx(2.0 * pi * 120.0).epsilon(0.01));
    CHECK(alone.stretches[0].tightest_mm == doctest::Approx(120.0).epsilon(0.1));
}

TEST_CASE("the tightest bend of a line is told with its place") {
    const RouteGraph graph = find_route_graph(
        fixtures::board({"M 100,480 H 500 A 60,60 0 0 0 560,420 V 300 A 200,200 0 0 1 760,100 H 900"}));
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches[0].tightest_mm == doctest::Approx(60.0).epsilon(0.1));
    CHECK(apart(graph.stretches[0].tightest_at, {542.4, 462.4}) < 25.0);
}

TEST_CASE("a dashed line is one line with its gaps; too wide a gap parts it") {
    Course course = fixtures::board({"M 100,300 H 900"});
    course.tapes[0].gaps = {{100.0, 40.0}, {260.0, 25.0}, {420.0, 62.0}, {600.0, 12.0}};
    paint_surface(course, 1.0);
    const RouteGraph graph = find_route_graph(course);
    REQUIRE(graph.stretches.size() == 1);
    const Stretch& line = graph.stretches[0];
    CHECK(line.length_mm == doctest::Approx(800.0).epsilon(0.005));
    REQUIRE(line.bridges.size() == 4);
    const bool forward = line.path.front().x < line.path.back().x;
    for (std::size_t i = 0; i < 4; ++i) {
        const Gap& gap = course.tapes[0].gaps[forward ? i : 3 - i];
        CHECK(std::abs(line.bridges[i].length_mm - gap.length_mm) < 1.5);
        const double from = forward ? gap.from_mm : 800.0 - gap.from_mm - gap.length_mm;
        CHECK(std::abs(line.bridges[i].from_mm - from) < 3.0);
    }
    course.tapes[0].gaps = {{300.0, 140.0}};
    paint_surface(course, 1.0);
    CHECK(find_route_graph(course).stretches.size() == 2);
    RouteGraphOptions far;
    far.longest_bridge_mm = 160.0;
    CHECK(find_route_graph(course, far).stretches.size() == 1);
}

TEST_CASE("ends that do not face each other are not bridged") {
    CHECK(find_route_graph(fixtures::board({"M 100,300 H 480", "M 540,360 V 560"})).stretches.size() == 2);
}

TEST_CASE("a line runs to the very edge of the course") {
    const RouteGraph graph = find_route_graph(fixtures::board({"M -50,300 H 1050", "M 700,300 V 700"}));
    CHECK(apart(only(graph, NodeKind::fork).at, {700.0, 300.0}) < 2.0);
    REQUIRE(count(graph, NodeKind::end) == 3);
    for (const Node& node : graph.nodes) {
        if (node.kind == NodeKind::end) {
            CHECK((node.at.x < 2.0 || node.at.x > 998.0 || node.at.y > 598.0));
        }
    }
}

TEST_CASE("a light line on a dark floor gives the same graph") {
    Course night = fixtures::board({"M 100,300 H 900", "M 420,300 V 80"});
    const RouteGraph day_graph = find_route_graph(night);
    std::swap(night.floor, night.line);
    paint_surface(night, 1.0);
    const RouteGraph graph = find_route_graph(night);
    REQUIRE(graph.nodes.size() == day_graph.nodes.size());
    for (std::size_t i = 0; i < graph.nodes.size(); ++i) {
        CHECK(apart(graph.nodes[i].at, day_graph.nodes[i].at) < 1.0);
    }
}

TEST_CASE("a plate over the line is a bridge with its colour; markers, things and places lie where they are") {
    Course course = fixtures::board({"M 100,300 H 900", "M 420,300 V 80"});
    course.markers.push_back({"teal", {20, 140, 130}, {700.0, 300.0}, 46.0, 38.0, 0.0});
    course.markers.push_back({"amber", {230, 154, 23}, {432.0, 180.0}, 20.0, 18.0, 0.0});
    course.things.push_back({"watering can", {230.0, 306.0}, {70.0, 60.0}, 0.0, std::nullopt});
    course.places.push_back({"bench", {425.0, 310.0}, 40.0});
    paint_surface(course, 1.0);
    const RouteGraph graph = find_route_graph(course);
    REQUIRE(graph.stretches.size() == 3);
    CHECK(only(graph, NodeKind::fork).name == "bench");
    int seen = 0;
    for (const Stretch& stretch : graph.stretches) {
        if (!stretch.bridges.empty()) {
            CHECK(stretch.bridges[0].marker == "teal");
            CHECK(std::abs(stretch.bridges[0].length_mm - 46.0) < 2.0);
            CHECK(stretch.markers == std::vector<int>{0});
            ++seen;
        }
        seen += stretch.things == std::vector<int>{0} ? 1 : 0;
        seen += stretch.markers == std::vector<int>{1} ? 1 : 0;
    }
    CHECK(seen == 3);
}

TEST_CASE("names are numbered from the top left and do not hang on the order of the tapes") {
    const RouteGraph a = find_route_graph(fixtures::board({"M 100,300 H 900", "M 300,300 V 80", "M 700,300 V 80"}));
    const RouteGraph b = find_route_graph(fixtures::board({"M 700,80 V 300", "M 900,300 H 100", "M 300,80 V 300"}));
    REQUIRE(a.nodes.size() == b.nodes.size());
    for (std::size_t i = 0; i < a.nodes.size(); ++i) {
        CHECK(a.nodes[i].name == b.nodes[i].name);
        CHECK(apart(a.nodes[i].at, b.nodes[i].at) < 0.5);
    }
    CHECK(only(find_route_graph(fixtures::board({"M 100,300 H 900", "M 300,300 V 80"})), NodeKind::fork).name ==
          "fork 1");
}

TEST_CASE("nothing, specks, a board of nothing but line and colours alike give a graph without harm") {
    CHECK(find_route_graph(fixtures::board({})).nodes.empty());
    CHECK(find_route_graph(fixtures::board({"M 100,300 h 2", "M 500,300 h 1.5"}, 2.0)).stretches.empty());
    find_route_graph(fixtures::board({"M 0,300 H 1000"}, 700.0));
    Course alike = fixtures::board({"M 100,300 H 900"});
    alike.line = alike.floor;
    CHECK(find_route_graph(alike).nodes.empty());
    CHECK(find_route_graph(Course{}).nodes.empty());
}

TEST_CASE("a star of six to eight ways is one junction, in its place") {
    for (const int ways : {6, 7, 8}) {
        CAPTURE(ways);
        std::vector<std::string> paths;
        for (int i = 0; i < ways; ++i) {
            const double heading = to_radians(11.0 + 360.0 * i / ways + (i % 2 == 0 ? 0.0 : 4.0));
            paths.push_back("M 480,300 L " + std::to_string(480.0 + 240.0 * std::cos(heading)) + "," +
                            std::to_string(300.0 + 240.0 * std::sin(heading)));
        }
        const RouteGraph graph = find_route_graph(fixtures::board(paths));
        CHECK(graph.stretches.size() == static_cast<std::size_t>(ways));
        REQUIRE(graph.nodes.size() == static_cast<std::size_t>(ways + 1));
        const auto star = std::find_if(graph.nodes.begin(), graph.nodes.end(),
                                       [](const Node& node) { return node.kind == NodeKind::star; });
        REQUIRE(star != graph.nodes.end());
        CHECK(star->exits.size() == static_cast<std::size_t>(ways));
        CHECK(apart(star->at, {480.0, 300.0}) < 3.0);
    }
}

TEST_CASE("holes of a few cells that stay where tapes meet are line") {
    for (const std::uint32_t seed : {87U, 114U}) {
        const fixtures::KnownGraph known = fixtures::random_course(seed);
        const RouteGraph graph = find_route_graph(known.course);
        CHECK(graph.nodes.size() == known.nodes.size());
        CHECK(graph.stretches.size() == known.stretches.size());
    }
}

TEST_CASE("random courses are found again: the rates that docs/simulation.md states") {
    auto courses = static_cast<std::uint32_t>(fixtures::rounds(300, 60, 12));
    if (const char* wanted = std::getenv("VTURN_COURSES")) {
        courses = static_cast<std::uint32_t>(std::max(1, std::atoi(wanted)));
    }
    Differences sum;
    std::size_t nodes = 0;
    std::size_t stretches = 0;
    for (std::uint32_t seed = 1; seed <= courses; ++seed) {
        const fixtures::KnownGraph known = fixtures::random_course(seed);
        const Differences one = differences(known, find_route_graph(known.course));
        sum.missed += one.missed;
        sum.added += one.added;
        sum.stretches += one.stretches;
        nodes += known.nodes.size();
        stretches += known.stretches.size();
    }
    MESSAGE(nodes, " nodes: ", sum.missed, " missed, ", sum.added, " added; ", stretches, " lines: ", sum.stretches,
            " not within 2 %");
    CHECK(nodes > 4 * courses);
    CHECK(sum.missed == 0);
    CHECK(sum.added == 0);
    CHECK(sum.stretches <= static_cast<int>(stretches / 400)); // none of those that are looked at by default
}

TEST_CASE("noise instead of lines is refused in bounded time, and says what to do" *
          doctest::skip(fixtures::sanitized())) {
    Course course;
    const int side = 2000; // a smaller one has too few pieces to be refused
    course.width_mm = course.height_mm = side;
    course.surface.columns = course.surface.rows = side;
    course.surface.cells.resize(static_cast<std::size_t>(side) * static_cast<std::size_t>(side));
    for (std::size_t i = 0; i < course.surface.cells.size(); ++i) {
        const bool dark = random_draw(7, Stream::bench_hand, i)[0] < 0x8000;
        course.surface.cells[i] = dark ? 0x1B1B1BU : 0xEDEAE2U;
    }
    const std::string fault = fixtures::message_of([&] { find_route_graph(course); });
    CHECK(fault.find("pieces of line: that is noise") != std::string::npos);
    CHECK(fault.find("smooth the picture") != std::string::npos);
}
