#include "vast_turn/sense/calibration.hpp"

namespace vast_turn {

Calibration calibration_of_readings(int sensors) {
    return Calibration{std::vector<SensorLevels>(static_cast<std::size_t>(sensors), SensorLevels{0.0, 1.0, 0.5, 0.0})};
}

} // namespace vast_turn
