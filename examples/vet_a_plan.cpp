// Before the floor: what can be known of a plan on this robot and this course, without a run.
#include <iostream>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/vet/vet.hpp"

using namespace vast_turn;

int main() {
    const Robot robot = load_robot("data/fern-house/sprig-2.robot.toml");
    const Course course = load_course("data/fern-house/fern-house.course.toml");
    for (const char* file : {"data/fern-house/gentle.plan", "data/fern-house/left-first.plan"}) {
        const VetReport report = vet(load_plan(file), {&robot, &course, nullptr});
        std::cout << file << "\n";
        for (const Finding& finding : report.findings) {
            std::cout << "  " << name_of(finding.grade) << ", line " << finding.place.line << ": " << finding.message
                      << "\n  to do: " << finding.cure << "\n";
        }
        for (const VetFact& fact : report.facts) {
            std::cout << "  " << fact.what << ": " << fact.value << "\n";
        }
    }
}
