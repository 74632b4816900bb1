#include "vast_turn/runtime/line_position.hpp"

#include <doctest/doctest.h>

using namespace vast_turn;

TEST_CASE("the weighted position is positive to the left and keeps its last value off the line") {
    const double weights[3] = {1.0, 0.0, -1.0};
    const double left[3] = {0.9, 0.3, 0.0};
    const double nothing[3] = {0.0, 0.0, 0.0};
    const double noise[3] = {0.0, 0.01, 0.02};
    CHECK(weighted_position(left, weights, 3, 0b001, 0.0) == doctest::Approx(0.75));
    CHECK(weighted_position(nothing, weights, 3, 0b000, -0.4) == -0.4);
    CHECK(weighted_position(noise, weights, 3, 0b000, 0.8) == 0.8); // what little comes off the line decides nothing
    CHECK(weighted_position(nothing, weights, 3, 0b001, -0.4) == -0.4);
}

TEST_CASE("the side of the line follows the sensors that see it; a balanced pattern leaves it") {
    const double left_mm[3] = {14.0, 0.0, -14.0};
    CHECK(side_of_line(0b001, left_mm, 3, -1.0) == 1.0);
    CHECK(side_of_line(0b110, left_mm, 3, 1.0) == -1.0);
    CHECK(side_of_line(0b101, left_mm, 3, -1.0) == -1.0);
    CHECK(side_of_line(0b010, left_mm, 3, 1.0) == 1.0);
    CHECK(side_of_line(0b000, left_mm, 3, -1.0) == -1.0);
}
