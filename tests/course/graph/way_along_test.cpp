#include "vast_turn/course/graph/way_along.hpp"

#include <doctest/doctest.h>

#include "support/fixtures.hpp"

using namespace vast_turn;

namespace {

double way_length(const std::vector<Vec2>& way) {
    double sum = 0.0;
    for (std::size_t i = 0; i + 1 < way.size(); ++i) {
        sum += length(way[i + 1] - way[i]);
    }
    return sum;
}

} // namespace

TEST_CASE("the way along lines turns off where lines meet, and is empty where they do not") {
    const Course course = fixtures::board({"M 100,300 H 500", "M 500,300 V 100", "M 500,300 H 900", "M 100,500 H 900"});
    const auto way = way_along_lines(find_route_graph(course), {110.0, 310.0}, {500.0, 110.0});
    CHECK(way_length(way) == doctest::Approx(390.0 + 190.0).epsilon(0.02));
    CHECK(way_along_lines(find_route_graph(course), {110.0, 310.0}, {500.0, 500.0}).empty());
    CHECK(way_along_lines(RouteGraph{}, {0, 0}, {1, 1}).empty());
}

TEST_CASE("the way along a loop goes round the shorter side") {
    const Course course = fixtures::board({"M 200,200 H 800 V 400 H 200 Z"});
    CHECK(way_length(way_along_lines(find_route_graph(course), {200.0, 300.0}, {300.0, 200.0})) ==
          doctest::Approx(200.0).epsilon(0.03));
}
