#include "vast_turn/robot/array.hpp"
#include "vast_turn/sense/array_reader.hpp"

#include <doctest/doctest.h>

#include "support/fixtures.hpp"

using namespace vast_turn;

TEST_CASE("offset and last side are remembered off the line") {
    ArrayReader reader(3);
    Look look;
    reader.from_pattern(look, *parse_marks("..."));
    CHECK(look.offset == 0.0);
    CHECK(look.last_side == 1.0);
    reader.from_pattern(look, *parse_marks("..#"));
    CHECK(look.offset == -1.0);
    CHECK(look.last_side == -1.0);
    reader.from_pattern(look, *parse_marks("..."));
    CHECK(look.offset == -1.0);
    reader.from_pattern(look, *parse_marks("#.#"));
    CHECK(look.offset == 0.0);
    CHECK(look.last_side == -1.0); // balanced
}

TEST_CASE("readings are clamped; the hysteresis of the calibration counts") {
    const Robot robot = fixtures::ideal_robot(1);
    ArrayReader reader = array_reader(robot, Calibration{{SensorLevels{800.0, 100.0, 0.5, 0.2}}});
    Look look;
    const auto bit_at = [&](double reading) {
        look.sensor[0] = reading;
        reader.from_readings(look);
        return look.line_bits == 1;
    };
    CHECK_FALSE(bit_at(0.55));
    CHECK(bit_at(0.61));
    CHECK(bit_at(0.45));
    CHECK_FALSE(bit_at(0.39));
    CHECK(bit_at(7.0));
    CHECK(look.sensor[0] == 1.0);
}

TEST_CASE("counts, readings and patterns say the same of the same look") {
    const Robot robot = fixtures::ideal_robot(2);
    const Calibration levels{{SensorLevels{900.0, 100.0, 0.5, 0.0}, SensorLevels{50.0, 250.0, 0.5, 0.0}}};
    Look by_counts;
    by_counts.raw[0] = 100.0;
    by_counts.raw[1] = 50.0;
    array_reader(robot, levels).from_counts(by_counts);
    Look by_pattern;
    array_reader(robot, levels).from_pattern(by_pattern, *parse_marks("#."));
    CHECK(by_counts.line_bits == by_pattern.line_bits);
    CHECK(by_counts.sensor[0] == by_pattern.sensor[0]);
    CHECK(by_counts.offset == by_pattern.offset);
}
