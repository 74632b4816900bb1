#include "vast_turn/robot/robot.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

std::vector<double> position_weights(const Robot& robot) {
    double outermost = 0.0;
    for (const LineSensor& sensor : robot.sensors) {
        outermost = std::max(outermost, std::abs(sensor.at_mm.y));
    }
    std::vector<double> weights;
    for (const LineSensor& sensor : robot.sensors) {
        weights.push_back(outermost > 0.0 ? sensor.at_mm.y / outermost : 0.0);
    }
    return weights;
}

} // namespace vast_turn
