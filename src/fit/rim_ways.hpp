#pragma once

/// How far both wheels turn by each look of a log, by the model.

#include <vector>

#include "vast_turn/fit/drive_log.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/robot/wheel_speeds.hpp"

namespace vast_turn {

/// Numbers of a robot's motors that are sought.
struct MotorNumbers {
    double left_mm_s = 0.0; ///< of the wheel's rim at full power, as its encoder counts it
    double right_mm_s = 0.0;
    double lag_ms = 0.0;
    double delay_ms = 0.0; ///< in the mean, with what it varies by
    double dead_band_pct = 0.0;
    double keep_pct = 0.0; ///< this and the next three of a robot with weight alone
    double start_pct = 0.0;
    double sag = 0.0;
    double run_down = 0.0;
    double uneven = 0.0; ///< the left wheel is so much larger than both in the mean, the right one smaller
};

/// By how much an answer comes later in the mean when its delay varies: the simulation draws whole milliseconds, from 0
/// to one less than that, each as often.
inline double mean_of_varying_ms(double varies_ms) { return varies_ms > 1.0 ? 0.5 * (varies_ms - 1.0) : 0.0; }

/// What the robot's file says of them.
MotorNumbers motor_numbers(const Robot& robot);

/// Which motor keeps the gain that the file gives it, so that a top speed means what it meant there: the stronger one.
inline bool left_is_measure(const Robot& robot) { return robot.motors.left.gain >= robot.motors.right.gain; }

/// The file's robot with other motors.
Robot with_motors(Robot robot, const MotorNumbers& numbers);

/// By each look, from the first, at the rim, mm.
struct RimWays {
    std::vector<double> left_mm;
    std::vector<double> right_mm;
    /// Of a robot with weight: how much farther the right wheel went over the floor than it rolled, and the left one
    /// less far, for what it turned on tyres that slid.
    std::vector<double> slid_mm;
};

/// The ways for the powers of the log; before the first answer reaches them wheels turn at `at_first` (a robot with
/// weight stands). As sim drives: sim/motion.cpp in closed form, or sim/drivetrain.cpp.
RimWays rim_ways(const Robot& robot, const DriveLog& log, const MotorNumbers& numbers, WheelSpeeds at_first);

} // namespace vast_turn
