#pragma once

/// Tape laid in code, piece by piece.

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Lays one piece of tape as a robot would drive along it:
///
///     course.tapes.push_back(TapePen({120.0, 700.0},
///     0.0).ahead(480.0).left(150.0, 90.0).gap(36.0).ahead(210.0).tape());
class TapePen {
public:
    /// Begins at a point (mm) with a heading (counter-clockwise from the right, degrees).
    TapePen(Vec2 at, double heading_deg, double width_mm = 19.0);

    /// Straight on; a way of 0 or less lays nothing.
    TapePen& ahead(double mm);
    /// A bend of a radius (mm, above 0) by an angle (degrees, above 0) to a side.
    TapePen& left(double radius_mm, double deg);
    TapePen& right(double radius_mm, double deg);
    /// Straight on without tape.
    TapePen& gap(double mm);
    /// Back to where it began, straight, and closed there.
    TapePen& close();

    /// Where it is and which way it looks, for the next piece: a fork begins where another tape has been.
    Pose pose() const { return {at_, heading_deg_}; }
    /// What was laid. Throws std::logic_error when that is nothing.
    Tape tape() const;

private:
    TapePen& bend(double radius_mm, double deg, double side);

    Vec2 at_;
    double heading_deg_;
    double way_mm_ = 0.0;
    Tape tape_;
};

} // namespace vast_turn
