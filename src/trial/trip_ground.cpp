#include "vast_turn/trial/trip_ground.hpp"

#include <utility>

namespace vast_turn {

TripGround::TripGround(std::vector<Course> courses, const Robot& robot, const std::vector<Trip>& trips)
    : owned_(std::make_unique<Owned>()) {
    owned_->robot = robot;
    owned_->courses = std::move(courses);
    owned_->scenes.reserve(owned_->courses.size()); // the cases point into it
    std::vector<const Scene*> scenes;
    for (Course& course : owned_->courses) {
        course.surface.cells.share_with(owned_->courses.front().surface.cells);
        scenes.push_back(&owned_->scenes.emplace_back(course, owned_->robot));
    }
    owned_->cases = cases_of(scenes, trips);
}

} // namespace vast_turn
