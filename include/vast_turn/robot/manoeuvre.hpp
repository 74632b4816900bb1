#pragma once

/// What a robot does with two wheel powers, in words a person can check on the floor.

#include <cstdint>
#include <string>

#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// The kinds of settled motion, by what each wheel does.
enum class ManoeuvreKind : std::uint8_t {
    still,    ///< both wheels stand
    straight, ///< the radius is more than twenty times the track
    arc,      ///< both wheels the same way
    pivot,    ///< one wheel stands
    turn,     ///< wheels against one another, the middle of the turn between them
    rotate,   ///< the same, on the spot: the middle is within a twentieth of the track of the robot's
};

/// Settled motion: lag is over, wheels do not slip.
struct Manoeuvre {
    ManoeuvreKind kind = ManoeuvreKind::still; ///< what the wheels do
    bool backwards = false;                    ///< the point midway between the wheels goes back
    int side = 0;                              ///< +1 turns to the left, -1 to the right, 0 neither
    double radius_mm =
        0.0; ///< of the way of the point midway between the wheels; 0 for rotate and still, infinite when straight
    double speed_mm_s = 0.0; ///< of that point, positive forwards
    double turn_deg_s = 0.0; ///< positive to the left
};

/// With the robot's dead band, gains and top speed.
Manoeuvre manoeuvre_of(const Robot& robot, double left_pct, double right_pct);

/// "straight", "left, radius 212 mm", "pivots left", "rotates right", "still".
std::string to_text(const Manoeuvre& manoeuvre);

} // namespace vast_turn
