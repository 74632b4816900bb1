#pragma once

/// The description of a robot: where its sensors are, what its motors do, when it looks.

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/robot/drive.hpp"
#include "vast_turn/robot/sensors.hpp"
#include "vast_turn/robot/variation.hpp"

namespace vast_turn {

/// What the controller gives a motor.
enum class CommandKind : std::uint8_t {
    percent, ///< -100..100
    pwm,     ///< a count from 0 to `span`, and a direction
    servo,   ///< an angle: `neutral` stands still, `span` degrees more or less are full power
};

/// One wheel's motor.
struct Motor {
    double gain = 1.0;     ///< part of top_speed_mm_s that full power gives; 0.97 is a weak motor
    double wheel = 1.0;    ///< times wheel_mm: a worn wheel is smaller, and goes less far for what its encoder counts
    bool reversed = false; ///< mounted mirrored: its command has the other sign; has no effect on the run
    CommandKind command = CommandKind::percent;
    std::string output;   ///< what it is wired to, as the controller names it
    double neutral = 0.0; ///< servo: the angle at which it stands, degrees
    double span = 100.0;  ///< pwm: the count of full power; servo: degrees from neutral to full power
};

/// What stands at a motor's output for a power in percent.
struct MotorCommand {
    double value = 0.0;     ///< percent, count or degrees
    bool backwards = false; ///< pwm: the direction line
};

/// The command for a power, which is clipped to +-100. PWM counts are whole.
MotorCommand command_for(const Motor& motor, double power_pct);

/// "percent", "pwm", "servo".
const char* name_of(CommandKind kind);

/// Both motors. A wheel's speed follows its target as a first-order lag.
struct Motors {
    double lag_ms = 60.0;       ///< time constant: after this long 63 % of a change is done; 0 is at once
    double dead_band_pct = 6.0; ///< a power below this gives nothing; at and above it, all of it
    /// The two may differ.
    Motor left;
    Motor right;
};

/// A two-wheeled robot.
struct Robot {
    std::string name;
    std::string file;              ///< as it was named when read; empty when made in memory
    double track_mm = 118.0;       ///< between the wheels' contact points
    double wheel_mm = 56.0;        ///< diameter of a wheel
    double skid = 1.0;             ///< it turns as if its wheels stood so many times as far apart, see skid_track_mm()
    double top_speed_mm_s = 420.0; ///< speed of a wheel at 100 % power and gain 1
    /// From above, x ahead, y left, in order round it; the disc over the wheels when empty.
    std::vector<Vec2> outline_mm;
    double look_ms = 10.0;        ///< loop period: from look to look
    double delay_ms = 3.0;        ///< from a look to the moment the wheels get its answer; may exceed look_ms
    double delay_varies_ms = 0.0; ///< each look's answer takes anything up to this longer
    double late_often = 0.0;      ///< share of looks whose answer comes late; those behind it wait for it
    double late_ms = 12.0;        ///< by so much
    double lost_often = 0.0;      ///< share of looks that do not take place: what was answered before goes on
    Motors motors;
    std::optional<Drive>
        drive; ///< what weighs, slides and sags; without it wheels follow their targets by the lag alone
    std::vector<LineSensor> sensors; ///< left to right, one to eight
    /// In the order of the file; a plan asks them by name, or all at once.
    std::vector<ColourSensor> colour_sensors;
    /// At most one.
    std::optional<RangeSensor> range_sensor;
    Gyro gyro;
    Compass compass;
    Encoders encoders;
    double apart_ms =
        0.0; ///< its line sensors are read one after another, left to right, so long apart; the last at the look
    Variation variation; ///< how its days differ; empty: each is as described here

    /// The distance between two wheels that do not scrub and turn the robot as much as its own do. Two wheels a side,
    /// or broad ones, slide sideways in turns: 1.3 to 2 times track_mm (Martinez and others, "Approximating kinematics
    /// for tracked mobile robots", 2005).
    double skid_track_mm() const { return track_mm * skid; }
};

} // namespace vast_turn
