#include "vast_turn/robot/sensors.hpp"

#include <algorithm>

namespace vast_turn {

LineSensor raised(LineSensor sensor, double mm) {
    if (!(sensor.height_mm > 0.0)) {
        return sensor;
    }
    // It does not touch the floor; and what sees a whole bench sees no line.
    constexpr double widest_mm = 100.0;
    const double most = std::max(1.0, std::min(10.0, widest_mm / sensor.spot_mm));
    const double times = std::clamp(1.0 + mm / sensor.height_mm, 0.1, most);
    sensor.height_mm *= times;
    sensor.spot_mm *= times;
    sensor.gain /= times * times;
    sensor.outside *= times * times; // a part of its own lamp's light, which has grown less
    return sensor;
}

} // namespace vast_turn
