#include "vast_turn/paint/trip_ground.hpp"

#include "vast_turn/paint/course_file.hpp"

namespace vast_turn {

TripGround::TripGround(const std::string& course_path, const Robot& robot, const std::string& trips_path) {
    const auto add = [&](const std::string& variant) {
        courses_.push_back(std::make_unique<const Course>(load_course(course_path, variant)));
        scenes_.push_back(std::make_unique<const Scene>(*courses_.back(), robot));
    };
    add(as_drawn);
    const std::vector<Trip> trips = trips_path.empty() ? course().trips : load_trips(trips_path, course());
    if (trips.empty()) {
        throw InputError(course_path, "the course has no trips to take",
                         "add a [[trip]] with name, from and visits or choices, or name a file of trips with --trips");
    }
    for (const std::string& variant : variants_of(course(), trips)) {
        if (variant != as_drawn) {
            add(variant);
        }
    }
    std::vector<const Scene*> scenes;
    for (const std::unique_ptr<const Scene>& scene : scenes_) {
        scenes.push_back(scene.get());
    }
    cases_ = cases_of(scenes, trips);
}

} // namespace vast_turn
