#pragma once

/// Files of trips (`*.trips.toml`; docs/files.md).

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/robot/variation.hpp"
#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

/// What stands in a file of trips.
struct TripSheet {
    std::vector<Trip> trips;            ///< at least one
    std::optional<Variation> variation; ///< how days differ on which these trips are taken, in place of the robot's
};

/// Reads a file of trips for a course, so that one course serves several teams. Throws InputError with
/// every fault found: a start, place or variant that the course lacks is one.
TripSheet load_trip_sheet(const std::string& path, const Course& course);

/// The same from text; `file` is what faults call it.
TripSheet parse_trip_sheet(std::string_view text, std::string_view file, const Course& course);

/// The trips alone.
std::vector<Trip> parse_trips(std::string_view text, std::string_view file, const Course& course);

} // namespace vast_turn
