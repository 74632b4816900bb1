#pragma once

/// Whole courses: the file read, its drawing found, the surface painted.

#include <memory>
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

/// What a course file may do with its drawing. A course may come from somebody else, and what it names is read.
struct DrawingRules {
    /// Whether the drawing may lie anywhere, not only in the folder of the course file or below it (symbolic links
    /// followed).
    bool anywhere = false;
    /// Whether a drawing is read and drawn in a process of its own, which can neither write nor connect nor take more
    /// than 6 s and 1.5 GB, so that whatever is in it ends in an InputError. The child is a copy of this process: a
    /// program whose other threads draw at that moment had better draw in its own. Course::drawn_apart says which it
    /// was.
    bool apart = true;
};

class Drawing;
struct DrawingKeys;
struct PieceSet;

/// A course file that is read again and again, in one variant or layout after another: its text, its pieces and their
/// drawings are read once.
///
///     const CourseReading reading("shuffled.course.toml");
///     for (int i = 1; i <= 200; ++i) {
///         const Course course = reading.read(fmt::format("layout {}", i)).course;
///
/// Any number of threads may read at once.
class CourseReading {
public:
    /// Throws InputError when the file cannot be read.
    explicit CourseReading(const std::string& path, const DrawingRules& rules = {});
    /// The same from text; `file` is what faults call it, and drawings lie beside it.
    CourseReading(std::string text, std::string file, const DrawingRules& rules);
    CourseReading(CourseReading&&) noexcept;
    CourseReading& operator=(CourseReading&&) noexcept;
    CourseReading(const CourseReading&) = delete;
    CourseReading& operator=(const CourseReading&) = delete;
    ~CourseReading();

    /// The course in a variant or layout, painted, and its trips. Throws InputError with every fault found.
    CourseFile read(std::string_view variant = as_drawn) const;

    /// As load_trip_ground(); of a shuffled course one layout, the first when it is not named. With the name of a
    /// variant only the trips that are driven over it, and over it alone. What a file of trips says of how days differ
    /// takes the place of the robot's own, unless `robot_says_days`.
    TripGround trip_ground(const Robot& robot, const std::string& trips_path = "",
                           std::string_view only_variant = as_drawn, bool robot_says_days = false) const;
    /// The same of what read() gave for this variant, so that it is not painted again.
    TripGround trip_ground(CourseFile file, const Robot& robot, const std::string& trips_path,
                           std::string_view only_variant, bool robot_says_days) const;

private:
    std::unique_ptr<Drawing> drawing_at(const std::string& path, const DrawingKeys& keys) const;
    PieceSet pieces_at(const std::string& path) const;
    PieceSet pieces_in(std::string_view text, const std::string& path) const;
    friend void check_pieces(std::string_view text, const std::string& file, const DrawingRules& rules);

    struct Shared;
    std::unique_ptr<Shared> shared_;
};

/// Reads a course file (`*.course.toml`; see docs/files.md) in one of its variants and paints its surface. Throws
/// InputError with every fault found, also those of its trips, or when it has no such variant.
CourseFile load_course_file(const std::string& path, std::string_view variant = as_drawn,
                            const DrawingRules& rules = {});

/// The same from text; `file` is what faults call it, and drawings lie beside it.
CourseFile parse_course_file(std::string_view text, std::string_view file, std::string_view variant = as_drawn,
                             const DrawingRules& rules = {});

/// Reads a file of pieces (`*.pieces.toml`) with their drawings, for whoever wants to know whether a course could be
/// laid out of it. Throws InputError with every fault found.
void check_pieces(std::string_view text, const std::string& file, const DrawingRules& rules = {});

/// The course alone, for whoever takes no trips.
Course load_course(const std::string& path, std::string_view variant = as_drawn, const DrawingRules& rules = {});
Course parse_course(std::string_view text, std::string_view file, std::string_view variant = as_drawn);

/// Reads a course file in all the variants that its trips run over, or those of a file of trips that stand in place of
/// its own, ready for a robot. Throws InputError with every fault, and when there is no trip.
TripGround load_trip_ground(const std::string& course_path, const Robot& robot, const std::string& trips_path = "",
                            const DrawingRules& rules = {}, bool robot_says_days = false);

} // namespace vast_turn
