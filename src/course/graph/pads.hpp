#pragma once

/// Tapes of a course file that are no lines but pads: where a robot docks, stands or turns.

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Whether a tape is much wider than the lines of its course, and not much longer than wide.
bool is_pad(const Course& course, const Tape& tape);

/// Whether a point lies under a tape that is cut off squarely, or so near beside it, mm.
bool covers(const Tape& tape, Vec2 p, double beside_mm);

/// The widest line of a course whose tapes make pads too, mm; 0 where none does.
double widest_line_beside_pads(const Course& course);

} // namespace vast_turn
