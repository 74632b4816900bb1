#include "vast_turn/course/board/tape_finder.hpp"

#include <cmath>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"

using namespace vast_turn;

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
