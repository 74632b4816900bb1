#pragma once

/// Iron on or under a course, which turns compasses aside.

#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// A piece of it.
struct Iron {
    Vec2 at;
    /// Its field 100 mm away, as a part of the earth's level field. Below 0 it points away from the iron.
    double strength = 0.0;
};

/// By how many degrees, counter-clockwise, a compass there is turned aside. The earth's field lies along heading 0 of
/// the course; that of each piece points to it and falls with the cube of the distance, as on the axis of a dipole
/// (Jackson, "Classical Electrodynamics", 1962, 5.6); nearer than 30 mm it grows no more.
double turned_aside_deg(const std::vector<Iron>& irons, Vec2 p);

} // namespace vast_turn
