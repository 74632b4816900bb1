#include "vast_turn/robot/array.hpp"
#include "vast_turn/robot/robot.hpp"

#include <doctest/doctest.h>

#include "support/fixtures.hpp"

using namespace vast_turn;

TEST_CASE("weights are positions to the left as parts of the outermost") {
    CHECK(position_weights(fixtures::ideal_robot(5)) == std::vector<double>{1.0, 0.5, 0.0, -0.5, -1.0});
    CHECK(position_weights(fixtures::ideal_robot(2)) == std::vector<double>{1.0, -1.0});
    CHECK(position_weights(fixtures::ideal_robot(1)) == std::vector<double>{0.0});
}
