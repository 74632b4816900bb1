// Route tests like unit tests: every trip of a course, from all its starts, over all its variants.
#include <iostream>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/trip_ground.hpp"
#include "vast_turn/trial/cures.hpp"

using namespace vast_turn;

int main() {
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    const Plan plan = load_plan("data/fern-house/rounds-first-try.plan");
    const TripGround ground("data/fern-house/glass-wing.course.toml", robot);

    for (const TripCase& one : ground.cases()) {
        const TripResult result = take_trip(*one.scene, plan, one.trip);
        std::cout << (result.passed ? "passed  " : "failed  ") << one.trip.name << "\n";
        if (result.passed) {
            continue;
        }
        for (const std::string& line : explain(plan, *result.parting)) {
            std::cout << "        " << line << "\n";
        }
        for (const Cure& cure : find_cures(*one.scene, plan, result, ground.cases())) {
            std::cout << "        " << (cure.passes ? "would pass with " : "from there on with ") << cure.change
                      << "\n";
        }
    }
}
