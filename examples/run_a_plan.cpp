// Loads a course, a robot and a plan, drives once and prints the route.
#include <cstdio>
#include <string>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/trial/trip_result.hpp"

int main(int argc, char** argv) {
    const std::string folder = argc > 1 ? argv[1] : "data/fern-house";
    try {
        const vast_turn::Course course = vast_turn::load_course(folder + "/fern-house.course.toml");
        const vast_turn::Robot robot = vast_turn::load_robot(folder + "/sprig-2.robot.toml");
        const vast_turn::Plan plan = vast_turn::load_plan(folder + "/left-first.plan");

        const vast_turn::Scene scene(course, robot);
        const vast_turn::Run run = vast_turn::drive(scene, plan);

        std::printf("%s", run.start.c_str());
        for (const std::string& place : vast_turn::route_of(course, run)) {
            std::printf(" -> %s", place.c_str());
        }
        std::printf(": %s after %.2f s\n", vast_turn::name_of(run.ending), run.time_s);
    } catch (const vast_turn::InputError& error) {
        std::fputs(error.what(), stderr);
        return 2;
    }
}
