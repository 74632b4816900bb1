#pragma once

/// Where tape ends: there it comes off the floor first.

#include <vector>

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// The end of a piece of tape.
struct TapeEnd {
    Vec2 at;
    Vec2 inwards; ///< unit vector along the tape, away from its end
    double half_width_mm = 0.0;
};

/// All ends of tape, those at gaps too; but for those that lie on other tape, which holds them down.
std::vector<TapeEnd> tape_ends(const Course& course);

} // namespace vast_turn
