// Route tests like unit tests: every trip of a course, from all its starts, over all its variants.
#include <iostream>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/trial/trip_report.hpp"

using namespace vast_turn;

int main() {
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    const Plan plan = load_plan("data/fern-house/rounds-first-try.plan");
    const TripGround ground = load_trip_ground("data/fern-house/glass-wing.course.toml", robot);

    const TripReport report = report_trips(ground.cases(), {plan});
    for (const CaseReport& one : report.pilots[0].cases) {
        std::cout << (one.all_passed() ? "passed  " : "failed  ") << one.result.trip.name << "\n";
        if (one.result.parting) { // a run that ends before its first look has none
            for (const std::string& line : explain(plan, *one.result.parting)) {
                std::cout << "        " << line << "\n";
            }
        }
        for (const Cure& cure : one.cures) {
            std::cout << "        " << describe(cure) << "\n";
        }
    }
}
