#pragma once

/// Files of trips (`*.trips.toml`; docs/files.md).

#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

/// Reads a file of trips for a course, so that one course serves several teams. Throws InputError with
/// every fault found: a start, place or variant that the course lacks is one.
std::vector<Trip> load_trips(const std::string& path, const Course& course);

/// The same from text; `file` is what faults call it.
std::vector<Trip> parse_trips(std::string_view text, std::string_view file, const Course& course);

} // namespace vast_turn
