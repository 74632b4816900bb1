#pragma once

/// What the counts of a line sensor tell of it.

#include <optional>
#include <vector>

namespace vast_turn {

/// Of one sensor, over plain floor.
struct SensorFit {
    double noise = 0.0;       ///< standard deviation, counts
    double noise_error = 0.0; ///< its standard error
    double level = 0.0;       ///< mean counts over the floor
    double level_error = 0.0;
};

/// Looks for stretches in which the sensor saw nothing but floor, the surface that it saw most: counts of one look and
/// the next are compared where looks farther off, before and behind, agree with the floor. Those that are compared do
/// not choose themselves. None when there are too few. `logs`: its counts in each log.
std::optional<SensorFit> fit_sensor(const std::vector<const std::vector<double>*>& logs);

} // namespace vast_turn
