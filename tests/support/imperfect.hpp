#pragma once

/// Robots as imperfect as can be written down, and what drives of the demo they go on.

#include <random>

#include "vast_turn/robot/robot.hpp"

namespace fixtures {

/// A model plan with a course and a robot that it drives.
struct Driven {
    const char* course;
    const char* robot;
    const char* plan;
};

inline constexpr Driven driven_models[] = {
    {"aisle", "sprig-1", "edge-right"},       {"aisle", "sprig-2", "two-beside"},
    {"aisle", "sprig-3", "three-pi"},         {"aisle", "sprig-4", "four-table"},
    {"drain", "sprig-5", "search"},           {"turns", "sprig-3", "colour-rules"},
    {"stages", "sprig-3", "stages"},          {"crossing", "sprig-3", "turn-by-heading"},
    {"crossing", "sprig-3", "turn-by-wheels"}};

/// Any number of quantities, each anywhere within its bounds, mostly to their ends.
vast_turn::Variation any_variation(std::mt19937& random);

/// Anything that a file may say of a robot's weight, as often its bounds as what lies between.
vast_turn::Drive any_drive(std::mt19937& random);

/// Sensors, encoders, gyro, compass and range sensor as bad as may be.
void make_sensors_imperfect(vast_turn::Robot& robot, std::mt19937& random);

} // namespace fixtures
