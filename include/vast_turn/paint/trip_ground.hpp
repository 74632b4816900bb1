#pragma once

/// A course in all the variants that its trips run over, made ready for a robot.

#include <memory>
#include <string>
#include <vector>

#include "vast_turn/robot/robot.hpp"
#include "vast_turn/trial/trip_case.hpp"

namespace vast_turn {

/// Owns the courses and scenes that its cases point to. It may be moved; the robot must outlive it.
class TripGround {
public:
    /// Reads a course file and, when given, a file of trips that stand in place of the course's own. Throws InputError
    /// with every fault, and when there is no trip.
    TripGround(const std::string& course_path, const Robot& robot, const std::string& trips_path = "");

    /// The course as its file draws it.
    const Course& course() const { return *courses_.front(); }
    /// The scene of `course()`.
    const Scene& scene() const { return *scenes_.front(); }
    /// Every trip from each of its starts over each of its variants.
    const std::vector<TripCase>& cases() const { return cases_; }

private:
    std::vector<std::unique_ptr<const Course>> courses_;
    std::vector<std::unique_ptr<const Scene>> scenes_;
    std::vector<TripCase> cases_;
};

} // namespace vast_turn
