#include "vast_turn/sense/calibration.hpp"

#include <doctest/doctest.h>

using namespace vast_turn;

TEST_CASE("readings run from 0 on the floor to 1 on the line, whichever is darker") {
    const SensorScale dark_line(SensorLevels{900.0, 100.0, 0.5, 0.0});
    CHECK(dark_line.reading(900.0) == doctest::Approx(0.0));
    CHECK(dark_line.reading(300.0) == doctest::Approx(0.75));
    CHECK(dark_line.reading(20.0) == doctest::Approx(1.0));
    CHECK(dark_line.reading(1000.0) == doctest::Approx(0.0));
    const SensorScale light_line(SensorLevels{100.0, 900.0, 0.5, 0.0});
    CHECK(light_line.reading(700.0) == doctest::Approx(0.75));
}

TEST_CASE("a sensor whose levels are equal reads floor for ever") {
    CHECK(SensorScale(SensorLevels{400.0, 400.0, 0.5, 0.0}).reading(10.0) == doctest::Approx(0.0));
}

TEST_CASE("with hysteresis a bit goes on above the threshold and off below it") {
    const SensorLevels levels{0.0, 100.0, 0.5, 0.2};
    ArrayScale scale(&levels, 1);
    double reading = 0.0;
    const auto bit = [&](double counts) { return scale.read(&counts, &reading) == 1; };
    CHECK_FALSE(bit(55.0));
    CHECK(bit(61.0));
    CHECK(bit(45.0));
    CHECK_FALSE(bit(39.0));
    CHECK_FALSE(bit(55.0));
}
