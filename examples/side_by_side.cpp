// How does a run over the drain end on a thousand ordinary days? Driven side by side, and counted.
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
    const Course course = load_course("data/fern-house/drain.course.toml");
    Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    robot.variation = load_days("data/fern-house/ordinary.days.toml");
    const Plan plan = load_plan("data/fern-house/drain-first-try.plan");
    const Scene scene(course, robot);

    RunOptions day;
    day.time_limit_s = 30.0;
    day.keep_looks = false; // how it ends is enough here
    std::vector<RunOptions> days;
    for (day.day = 1; day.day <= 1000; ++day.day) {
        days.push_back(day);
    }
    std::map<std::string, int> ended;
    for (const Run& run : drive_many(scene, plan, days, {.jobs = 0})) { // each is what drive() makes of its options
        ++ended[run.ended_because];
    }
    for (const auto& [because, times] : ended) {
        std::cout << times << ": " << because << "\n";
    }
}
