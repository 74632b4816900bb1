// Where does the cart end up on a thousand ordinary days? Driven side by side, and counted by place.
#include <iostream>
#include <map>
#include <string>

#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/many/drive_many.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

int main() {
    const Course course = load_course("data/fern-house/fern-house.course.toml");
    Robot robot = load_robot("data/fern-house/sprig-2.robot.toml");
    robot.variation = load_days("data/fern-house/ordinary.days.toml");
    const Plan plan = load_plan("data/fern-house/left-first.plan");
    const Scene scene(course, robot);

    RunOptions day;
    day.time_limit_s = 30.0;
    day.keep_looks = false; // where it comes is enough here
    std::vector<RunOptions> days;
    for (day.day = 1; day.day <= 1000; ++day.day) {
        days.push_back(day);
    }
    std::map<std::string, int> reached;
    for (const Run& run : drive_many(scene, plan, days, {.jobs = 0})) { // each is what drive() makes of its options
        ++reached[run.visits.empty() ? "nowhere" : course.places[run.visits.back().place].name];
    }
    for (const auto& [place, times] : reached) {
        std::cout << place << ": " << times << "\n";
    }
}
