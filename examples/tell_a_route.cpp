// Which way did it go, and what would have made it go the other way? Matching, a trip and its cures.
#include <iostream>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/trial/cures.hpp"
#include "vast_turn/trial/matched_route.hpp"

using namespace vast_turn;

int main() {
    const auto [course, trips] = load_course_file("data/fern-house/fern-house.course.toml");
    const Robot robot = load_robot("data/fern-house/sprig-2.robot.toml");
    const Plan plan = load_plan("data/fern-house/left-first.plan");
    const Scene scene(course, robot);

    const Run run = drive(scene, plan);
    const MatchedRoute route = match_run(scene, run);
    std::cout << "it went " << describe(scene.graph(), route) << "\n";

    const Trip trip{.name = "to the dock", .from = "potting bench", .choices = {"fork right"}};
    const TripResult result = take_trip(scene, plan, trip);
    for (const std::string& failure : result.failures) {
        std::cout << failure << "\n";
    }
    for (const Cure& cure : find_cures({trip, &scene}, plan, result, cases_of(scene, trips))) {
        std::cout << describe(cure) << "\n";
    }
}
