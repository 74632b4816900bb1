#include <algorithm>
#include <cmath>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/course/floor/surface.hpp"
#include "vast_turn/paint/surface.hpp"

using namespace vast_turn;

namespace {

/// The part of a disc of radius r on the far side of a line at distance d from its middle.
double part_beyond(double d, double r) {
    if (d >= r) {
        return 0.0;
    }
    if (d <= -r) {
        return 1.0;
    }
    return (r * r * std::acos(d / r) - d * std::sqrt(r * r - d * d)) / (pi * r * r);
}

/// The largest difference between readings and the exact area, as a part of the contrast, over
/// places all along and across a tape's edge that lies at an angle.
double worst_over_edge(double spot_mm, double angle_deg, double cell_mm) {
    // One edge of a wide tape; its other side is far away.
    const Vec2 along = direction(angle_deg);
    const Vec2 left{along.y, -along.x};
    const Vec2 middle{500.0, 300.0};
    const Vec2 on_tape = middle - 50.0 * left;
    const Vec2 a = on_tape - 2000.0 * along;
    const Vec2 b = on_tape + 2000.0 * along;
    const Course course = fixtures::board({"M " + std::to_string(a.x) + "," + std::to_string(a.y) + " L " +
                                           std::to_string(b.x) + "," + std::to_string(b.y)},
                                          100.0, cell_mm);
    const SpotMap map(course.surface, Light::red, spot_mm);
    const double floor = reflectance(course.floor, Light::red);
    const double line = reflectance(course.line, Light::red);
    double worst = 0.0;
    for (int i = 0; i < 60; ++i) {
        const Vec2 base = middle + (0.37 * i) * along;
        for (double d = -1.2 * spot_mm; d <= 1.2 * spot_mm; d += 0.11) {
            const double exact = floor + part_beyond(d, 0.5 * spot_mm) * (line - floor);
            worst = std::max(worst, std::abs(map.at(base + d * left) - exact) / (floor - line));
        }
    }
    return worst;
}

} // namespace

TEST_CASE("a reading over a straight edge is the exact area under the spot, within the stated bound") {
    const std::vector<double> angles =
        fixtures::sanitized() ? std::vector{17.0, 90.0} : std::vector{0.0, 17.0, 45.0, 73.0, 90.0};
    for (const double angle : angles) {
        CAPTURE(angle);
        CHECK(worst_over_edge(6.0, angle, 0.5) < 0.01);
        CHECK(worst_over_edge(12.0, angle, 0.5) < 0.01);
        CHECK(worst_over_edge(4.0, angle, 0.5) < 0.02);
        CHECK(worst_over_edge(6.0, angle, 1.0) < 0.03);
    }
}

TEST_CASE("bare floor, full tape and everything beyond the board read their own reflectance") {
    const Course course = fixtures::board({"M 0,300 H 1000"}, 60.0);
    const SpotMap map(course.surface, Light::red, 6.0);
    CHECK(map.at({500.0, 100.0}) == doctest::Approx(reflectance(course.floor, Light::red)).epsilon(1e-5));
    CHECK(map.at({500.0, 300.0}) == doctest::Approx(reflectance(course.line, Light::red)).epsilon(1e-5));
    for (const Vec2 p :
         {Vec2{-500.0, 300.0}, Vec2{5000.0, 300.0}, Vec2{500.0, -1e9}, Vec2{500.0, 1e9}, Vec2{std::nan(""), 3.0}}) {
        CHECK(map.at(p) == doctest::Approx(reflectance(course.floor, Light::red)).epsilon(1e-5));
    }
}

TEST_CASE("each light weighs a marker's colour in its own way") {
    Course course = fixtures::board({});
    course.markers.push_back({"teal", {20, 140, 130}, {500.0, 300.0}, 80.0, 80.0, 0.0});
    paint_surface(course, 1.0);
    for (const Light light : {Light::red, Light::green, Light::white, Light::infrared}) {
        CHECK(SpotMap(course.surface, light, 6.0).at({500.0, 300.0}) ==
              doctest::Approx(reflectance({20, 140, 130}, light)).epsilon(1e-5));
    }
}

TEST_CASE("a spot smaller than a cell reads the cell") {
    const Course course = fixtures::board({"M 0,300 H 1000"}, 60.0);
    CHECK(SpotMap(course.surface, Light::red, 0.5).at({500.5, 300.5}) ==
          doctest::Approx(reflectance(course.line, Light::red)).epsilon(1e-5));
}
