#pragma once

/// Reads the [[trip]] tables of a course file or of a file of its own.

#include <string>
#include <vector>

#include "formats/read/toml_reader.hpp"
#include "vast_turn/course/board/course.hpp"
#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

/// The trips of a text. Starts, places and variants are those of the course. Faults go to the text.
std::vector<Trip> read_trips(TomlTable& root, const Course& course, const std::string& file);

} // namespace vast_turn
