#pragma once

/// What follows from a robot's description, before any plan: ways, circles, turns, and values that no robot has.

#include <string>
#include <vector>

#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// With both wheels at one power, settled.
struct PowerFacts {
    double power_pct = 0.0;
    double speed_mm_s = 0.0;       ///< the mean of both
    double between_looks_mm = 0.0; ///< way from look to look
    /// Way from a look until the robot stands, when that look answers that both wheels stand: the delay at full speed,
    /// and the lag's closed form, speed times time constant, shorter by what friction takes of a robot with weight.
    double to_stop_mm = 0.0;
    /// Of the circle that it makes with the outside wheel at full power and the inside one as much below this power as
    /// that is above it: a tighter bend needs a slower robot. Infinite at full power.
    double tightest_bend_mm = 0.0;
    /// Radius of the bend in which the tyres begin to slide sideways at this speed: v^2 / (grip * part of the weight on
    /// them * g). 0 for a robot without weight.
    double slides_in_mm = 0.0;
};

/// A circle that both powers make.
struct CircleFacts {
    double outside_pct = 0.0;
    double inside_pct = 0.0;
    double radius_mm = 0.0; ///< of the way of the point midway between the wheels; 0 on the spot
};

/// All of it.
struct RobotFacts {
    std::vector<PowerFacts> powers;    ///< from the least power outside the dead band to 100
    std::vector<CircleFacts> circles;  ///< outside wheel by outside wheel, the inside one from backwards to forwards
    double quarter_on_spot_deg = 0.0;  ///< turn of each wheel for a quarter turn of the robot on the spot
    double quarter_on_wheel_deg = 0.0; ///< turn of the outside wheel for one about the inside wheel
    double array_width_mm = 0.0;       ///< from one outermost spot's rim to the other's
    double array_ahead_mm = 0.0;       ///< of the array's middle before the axle
    std::vector<std::string> unlikely; ///< values that no robot has, and what may be meant; a sentence each
};

/// A radius for people: "59", or "straight" when it is infinite.
std::string radius_text(double mm);

/// Works it out. The robot must have a sensor.
RobotFacts facts_of(const Robot& robot);

} // namespace vast_turn
