#pragma once

/// A course in all the variants that its trips run over, made ready for a robot.

#include <memory>
#include <vector>

#include "vast_turn/robot/robot.hpp"
#include "vast_turn/trial/trip_case.hpp"

namespace vast_turn {

/// Owns all that its cases point to. It may be moved; the cases stay good. load_trip_ground() of paint makes one of a
/// course file:
///
///     const TripGround ground = load_trip_ground("glass-wing.course.toml", robot);
///     const TripReport report = report_trips(ground.cases(), {plan});
class TripGround {
public:
    /// `courses` are the variants, painted, the course as its file draws it first. Throws InputError when a trip names
    /// a variant that is not among them.
    TripGround(std::vector<Course> courses, const Robot& robot, const std::vector<Trip>& trips);

    /// The course as its file draws it.
    const Course& course() const { return owned_->courses.front(); }
    /// The scene of `course()`.
    const Scene& scene() const { return owned_->scenes.front(); }
    /// Every trip from each of its starts over each of its variants.
    const std::vector<TripCase>& cases() const { return owned_->cases; }

private:
    /// In one place, so that pointers stay good when the ground is moved.
    struct Owned {
        /// A copy, so that the caller's may go.
        Robot robot;
        std::vector<Course> courses;
        std::vector<Scene> scenes;
        std::vector<TripCase> cases;
    };
    std::unique_ptr<Owned> owned_;
};

} // namespace vast_turn
