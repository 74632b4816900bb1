#pragma once

/// Whole courses: the file read, its drawing found, the surface painted.

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/trial/trip.hpp"
#include "vast_turn/trial/trip_ground.hpp"

namespace vast_turn {

/// A course and the trips that stand in its file.
struct CourseFile {
    Course course;
    std::vector<Trip> trips;
};

/// Where the drawing of a course may lie. A course may come from somebody else, and what it names is read.
enum class Drawings : std::uint8_t {
    beside,  ///< in the folder of the course file or below it, symbolic links followed
    anywhere ///< wherever the file says
};

/// Reads a course file (`*.course.toml`; see docs/files.md) in one of its variants and paints its surface. Throws
/// InputError with every fault found, also those of its trips, or when it has no such variant.
CourseFile load_course_file(const std::string& path, std::string_view variant = as_drawn,
                            Drawings drawings = Drawings::beside);

/// The same from text; `file` is what faults call it, and drawings lie beside it.
CourseFile parse_course_file(std::string_view text, std::string_view file, std::string_view variant = as_drawn,
                             Drawings drawings = Drawings::beside);

/// The course alone, for whoever takes no trips.
Course load_course(const std::string& path, std::string_view variant = as_drawn, Drawings drawings = Drawings::beside);
Course parse_course(std::string_view text, std::string_view file, std::string_view variant = as_drawn);

/// Reads a course file in all the variants that its trips run over, or those of a file of trips that stand in place of
/// its own, ready for a robot. Throws InputError with every fault, and when there is no trip.
TripGround load_trip_ground(const std::string& course_path, const Robot& robot, const std::string& trips_path = "",
                            Drawings drawings = Drawings::beside);

} // namespace vast_turn
