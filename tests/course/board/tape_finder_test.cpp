#include "vast_turn/course/board/tape_finder.hpp"

#include <cmath>

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

TEST_CASE("the distance is that to the middle of the nearest tape; gaps count as tape") {
    Course course = fixtures::board({"M 100,300 H 500", "M 700,100 V 500"});
    course.tapes[0].gaps = {{150.0, 60.0}};
    const TapeFinder finder(course);
    CHECK(finder.distance({270.0, 320.0}) == doctest::Approx(20.0));
    CHECK(finder.distance({660.0, 300.0}) == doctest::Approx(40.0));
    CHECK(finder.distance({70.0, 260.0}) == doctest::Approx(50.0));
    CHECK(std::isinf(TapeFinder(Course{}).distance({1.0, 1.0})));
}

TEST_CASE("the near distance is never smaller, and equal while moving along a tape") {
    const TapeFinder finder(fixtures::board({"M 100,300 A 200,200 0 0 1 500,300 A 200,200 0 0 0 900,300"}));
    TapeFinder::Hint hint;
    finder.distance({100.0, 300.0}, hint);
    for (int i = 0; i <= 180; ++i) {
        const double a = to_radians(180.0 - i);
        const Vec2 p{300.0 + 205.0 * std::cos(a), 300.0 - 205.0 * std::sin(a)};
        CHECK(finder.distance_near(p, hint) == doctest::Approx(finder.distance(p)).epsilon(1e-9));
    }
    CHECK(finder.distance_near({900.0, 300.0}, hint) >= finder.distance({900.0, 300.0}));
}

TEST_CASE("the way along tapes turns off where tapes meet, and is empty where they do not") {
    const Course course = fixtures::board({"M 100,300 H 500", "M 500,300 V 100", "M 500,300 H 900", "M 100,500 H 900"});
    const auto way = way_along_tapes(course, {110.0, 310.0}, {500.0, 110.0});
    CHECK(way_length(way) == doctest::Approx(390.0 + 190.0).epsilon(0.02));
    CHECK(way_along_tapes(course, {110.0, 310.0}, {500.0, 500.0}).empty());
    CHECK(way_along_tapes(Course{}, {0, 0}, {1, 1}).empty());
}

TEST_CASE("the way along a loop goes round the shorter side") {
    const Course course = fixtures::board({"M 200,200 H 800 V 400 H 200 Z"});
    CHECK(way_length(way_along_tapes(course, {200.0, 300.0}, {300.0, 200.0})) == doctest::Approx(200.0).epsilon(0.03));
}
