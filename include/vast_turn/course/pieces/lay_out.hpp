#pragma once

/// A course laid out of pieces.

#include "vast_turn/course/pieces/piece.hpp"

namespace vast_turn {

/// Puts pieces side by side: tapes, plates, places, things, walls and starts of each, moved and turned, in the order of
/// the grid. The course's board is the grid; its surface and what drawings show are left to whoever paints. Of places,
/// things, plates and starts that come more than once the second is called "bench 2", and so on. Where a line runs
/// against a neighbour without a way there, that is among its warnings.
Course lay_out(const PieceSet& set, const Layout& layout);

/// Where a point of a piece lies when the piece lies in this column and row.
Vec2 laid_point(const PieceSet& set, const LaidPiece& laid, int column, int row, Vec2 on_piece);

} // namespace vast_turn
