#pragma once

/// A robot's array of line sensors as a whole.

#include <algorithm>
#include <cmath>
#include <vector>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/robot/faults.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/array_reader.hpp"
#include "vast_turn/sense/bench_readings.hpp"

namespace vast_turn {

/// What the robot file tells of the array: ranges and places.
ArrayFacts array_facts(const Robot& robot);

/// The mean place of the sensors in the robot frame, mm. The robot must have a sensor.
Vec2 array_middle(const Robot& robot);

/// The weights of its sensors for the weighted position, as position_weights() of sense makes them.
std::vector<double> position_weights(const Robot& robot);

/// Reads looks of this robot's array with a calibration for as many sensors (asserted).
ArrayReader array_reader(const Robot& robot, const Calibration& calibration,
                         runtime::NumberKind numbers = runtime::NumberKind::binary64);

/// The same for readings and patterns, with the threshold half way.
ArrayReader array_reader(const Robot& robot);

/// The calibration of a sound robot without noise over surfaces of which each sensor gets this part of its light,
/// 0..1; threshold half way.
Calibration ideal_calibration(const Robot& robot, const std::vector<double>& floor, const std::vector<double>& line);

/// What a channel gives for the light under its sensor: counts = always + scale * light^curve, within 0..most, plus
/// noise.
struct Channel {
    std::size_t source = 0; ///< the sensor (from 0) at its wire
    double scale = 0.0;     ///< counts in full light
    double always = 0.0;    ///< counts in any light: what a stuck sensor gives
    double most = 0.0;      ///< the end of its range
    double noise = 0.0;     ///< standard deviation, counts
    double curve = 1.0;     ///< as LineSensor has it

    /// Without noise, before rounding and clipping.
    double counts(double light) const {
        return always + scale * (curve < 1.0 || curve > 1.0 ? std::pow(std::max(0.0, light), curve) : light);
    }
};

/// The channels of a robot with faults, by number. A dead or stuck sensor has no noise.
std::vector<Channel> channels_of(const Robot& robot, const Faults& faults);

} // namespace vast_turn
