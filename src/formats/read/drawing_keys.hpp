#pragma once

/// What a course file says about its drawing.

#include "formats/read/toml_reader.hpp"
#include "vast_turn/course/board/course.hpp"
#include "vast_turn/formats/read/course_sheet.hpp"

namespace vast_turn {

inline constexpr Range coordinate{-100000.0, 100000.0};
inline constexpr Range board_size{10.0, 32000.0};

/// Its scale, which part of it is the board, its light. Where there is no drawing, keys that only one can have are
/// faults.
DrawingKeys read_drawing_keys(TomlTable& root, bool has_drawing);

/// `[[leave_out]]` and `[[take_in]]`, likewise.
LineHints read_line_hints(TomlTable& root, bool has_drawing);

/// `[[in_the_way]]`, likewise.
std::vector<InTheWay> read_in_the_way(TomlTable& root, bool has_drawing);

} // namespace vast_turn
