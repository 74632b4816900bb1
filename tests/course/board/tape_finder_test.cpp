#include "vast_turn/course/board/tape_finder.hpp"

#include <algorithm>
#include <cmath>
#include <random>
#include <vector>

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

TEST_CASE("the nearest tape of a course of many is that which looking at each alone finds") {
    std::mt19937 random(5);
    const auto between = [&random](double least, double most) {
        return least + (most - least) * static_cast<double>(random() % 100000) / 100000.0;
    };
    for (const bool alike : {true, false}) {
        Course course;
        std::vector<Course> alone;
        for (int n = 0; n < 60; ++n) {
            Tape tape;
            tape.width_mm = alike ? 19.0 : between(8.0, 60.0);
            Vec2 at{between(0.0, 2400.0), between(0.0, 1200.0)};
            for (int k = 0; k < 7; ++k) {
                tape.path.push_back(at);
                at = at + Vec2{between(-90.0, 90.0), between(-90.0, 90.0)};
            }
            tape.closed = n % 5 == 0;
            course.tapes.push_back(tape);
            alone.emplace_back().tapes = {tape};
        }
        const TapeFinder all(course);
        std::vector<TapeFinder> each(alone.begin(), alone.end());
        for (int n = 0; n < 400; ++n) {
            const Vec2 p{between(-200.0, 2600.0), between(-200.0, 1400.0)};
            double nearest = HUGE_VAL;
            double by_edge = HUGE_VAL;
            for (const TapeFinder& one : each) {
                nearest = std::min(nearest, one.distance(p));
                by_edge = std::min(by_edge, one.beyond_edge(p));
            }
            CHECK(all.distance(p) == nearest);
            CHECK(all.beyond_edge(p) == by_edge);
        }
    }
}
