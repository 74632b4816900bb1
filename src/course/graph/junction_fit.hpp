#pragma once

/// Where the lines that come to a junction meet.

#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// The course of a line as it comes to a junction: a parabola over the way from where it is sound, outwards.
struct FittedArm {
    Vec2 at;             ///< where it is sound
    Vec2 along;          ///< outwards there, per mm
    Vec2 bend;           ///< half of how that changes, per mm; zero when straight
    double off_mm = 0.0; ///< root of the mean square of the points off it

    Vec2 point(double t) const { return at + t * along + (t * t) * bend; }
    Vec2 heading(double t) const { return along + (2.0 * t) * bend; }
};

/// By least squares; a straight line where that is as good, its points not farther off than `straight_mm` in the mean.
/// Needs at least 2 points.
FittedArm fit_arm(const std::vector<Vec2>& outwards, double straight_mm = 0.25);

/// Degrees that who comes in by one arm turns to leave by another, 0 to 180.
double turn_between(const FittedArm& a, const FittedArm& b);

/// The point nearest to all arms by least squares, prolonged inwards by at most `reach_mm`; `first` where they do not
/// tell.
Vec2 meeting_point(const std::vector<FittedArm>& arms, Vec2 first, double reach_mm);

/// Whether two arms on two sides of a junction are one line that goes through it.
bool goes_through(const FittedArm& a, const FittedArm& b, double aside_mm, double turn_deg);

} // namespace vast_turn
