#pragma once

/// Courses that are laid out of pieces.

#include <string>

#include "formats/read/toml_reader.hpp"
#include "vast_turn/formats/read/course_sheet.hpp"

namespace vast_turn {

/// Reads `pieces`, `layout` or `shuffled`, and `cell_mm`, and lays the course out: in the layout that `variant` names
/// when it is shuffled. Throws InputError with all faults found so far when it cannot be laid out.
void read_laid(TomlText& toml, TomlTable& root, const std::string& variant, const FindPieces& find_pieces,
               CourseSheet& sheet, Course& course);

} // namespace vast_turn
