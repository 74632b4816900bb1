#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Reads a course file (`*.course.toml`; see docs/files.md) in one of its variants and paints its surface. Throws
/// InputError with every fault found, or when it has no such variant.
Course load_course(const std::string& path, std::string_view variant = as_drawn);

/// The same from text; `file` is what faults call it.
Course parse_course(std::string_view text, std::string_view file, std::string_view variant = as_drawn);

/// Reads a file of trips (`*.trips.toml`) for a course, so that one course serves several teams. Throws InputError with
/// every fault found: a start, place or variant that the course lacks is one.
std::vector<Trip> load_trips(const std::string& path, const Course& course);

/// The same from text; `file` is what faults call it.
std::vector<Trip> parse_trips(std::string_view text, std::string_view file, const Course& course);

/// Paints floor, tape and markers into `course.surface`, cells of `cell_mm`, with edges smoothed by
/// the part of each cell that is covered. Throws InputError when that would be more than 110 million
/// cells.
void paint_surface(Course& course, double cell_mm);

} // namespace vast_turn
