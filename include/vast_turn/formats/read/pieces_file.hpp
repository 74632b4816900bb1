#pragma once

/// Files of pieces (`*.pieces.toml`; docs/files.md).

#include <string>
#include <string_view>

#include "vast_turn/course/pieces/piece.hpp"
#include "vast_turn/formats/read/course_sheet.hpp"

namespace vast_turn {

/// Reads a file of pieces; `file` is what faults call it, and drawings lie beside it. Throws InputError with every
/// fault found: a way that no tape leads to is one; or when a piece is drawn and `find_drawing` is empty.
PieceSet parse_pieces(std::string_view text, std::string_view file, const FindDrawing& find_drawing = {});

/// The same from a file, whose pieces must not be drawn.
PieceSet load_pieces(const std::string& path);

} // namespace vast_turn
