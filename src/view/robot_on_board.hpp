#pragma once

/// A robot and its way on a board.

#include "vast_turn/sim/run.hpp"
#include "view/board.hpp"

namespace vast_turn {

/// The way of a run as far as it was recorded.
void draw_way(Canvas& canvas, const Board& board, const Run& run, Ink colour);

/// The wheels' axle and the array at a look, each sensor full where it saw line.
void draw_robot(Canvas& canvas, Board& board, const Scene& scene, const LookRecord& look);

} // namespace vast_turn
