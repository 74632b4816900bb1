#pragma once

#include <string>
#include <string_view>

#include "vast_turn/course/course.hpp"

namespace vast_turn {

/// Reads a course file (`*.course.toml`; see docs/files.md) and paints its surface. Throws
/// InputError with every fault found.
Course load_course(const std::string& path);

/// The same from text; `file` is what faults call it.
Course parse_course(std::string_view text, std::string_view file);

/// Paints floor, tape and markers into `course.surface`, cells of `cell_mm`, with edges smoothed by
/// the part of each cell that is covered. Throws InputError when that would be more than 110 million
/// cells.
void paint_surface(Course& course, double cell_mm);

} // namespace vast_turn
