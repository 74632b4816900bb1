#pragma once

/// How the robot moves: two wheels that follow their targets with a lag, on a body that turns.

#include <cmath>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// Where the body is and how fast its wheels run.
struct Body {
    Vec2 at;                 ///< the point midway between the wheels, mm, course frame
    Vec2 ahead{1.0, 0.0};    ///< unit vector the way it faces, course frame
    double turned_rad = 0.0; ///< since the start, counter-clockwise, does not wrap
    double way_mm = 0.0;     ///< net way of `at`: backwards counts negative
    double path_mm = 0.0;    ///< as way_mm with backwards counted positive, call by call
    double left_mm_s = 0.0;  ///< speed of the left wheel over the ground
    double right_mm_s = 0.0;
};

/// Speed that a motor settles at for a power in percent: clipped to +-100, nothing in the dead
/// band, else in proportion.
double settled_speed(const Robot& robot, const Motor& motor, double power_pct);

/// Advances a body by fixed steps.
///
/// Within a step the way of each wheel is the exact integral of its first-order lag, and the body
/// moves on the exact arc that belongs to those two ways (constant twist). So a run with constant
/// powers is exact to rounding at any step, and the step only matters for how finely a changing
/// turn rate is followed.
class Motion {
public:
    /// `step_ms` > 0.
    Motion(const Robot& robot, double step_ms);

    /// Does `steps` steps towards the given settled speeds.
    void advance(Body& body, int steps, double left_target_mm_s, double right_target_mm_s) const;

private:
    double step_s_;
    double decay_;       // what is left of a speed difference after a step
    double decay_way_s_; // way in a step for each mm/s of speed difference
    double per_track_;
};

} // namespace vast_turn
