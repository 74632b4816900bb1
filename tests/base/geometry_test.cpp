#include "vast_turn/base/geometry.hpp"

#include <doctest/doctest.h>

using namespace vast_turn;

TEST_CASE("headings grow counter-clockwise on a drawing whose y points down") {
    CHECK(direction(0.0).x == doctest::Approx(1.0));
    CHECK(direction(90.0).y == doctest::Approx(-1.0));
    CHECK(direction(180.0).x == doctest::Approx(-1.0));
}

TEST_CASE("the robot's left is up on the drawing when it faces right") {
    const Vec2 p = from_robot({100.0, 200.0}, direction(0.0), {50.0, 12.0});
    CHECK(p.x == doctest::Approx(150.0));
    CHECK(p.y == doctest::Approx(188.0));
    const Vec2 q = from_robot({100.0, 200.0}, direction(90.0), {50.0, 12.0});
    CHECK(q.x == doctest::Approx(88.0));
    CHECK(q.y == doctest::Approx(150.0));
}

TEST_CASE("the nearest point of a segment is an end when the foot lies beyond it") {
    const Vec2 a{0.0, 0.0};
    const Vec2 b{10.0, 0.0};
    CHECK(nearest_on_segment({4.0, 3.0}, a, b) == Vec2{4.0, 0.0});
    CHECK(nearest_on_segment({-4.0, 3.0}, a, b) == a);
    CHECK(nearest_on_segment({14.0, 3.0}, a, b) == b);
    CHECK(nearest_on_segment({4.0, 3.0}, a, a) == a);
}
