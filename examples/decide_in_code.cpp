// The decisions come from a C++ callable instead of a plan: go right at every fork.
#include <cstdio>
#include <string>

#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/trial/trip_result.hpp"

int main(int argc, char** argv) {
    const std::string folder = argc > 1 ? argv[1] : "data/fern-house";
    try {
        const vast_turn::Course course = vast_turn::load_course(folder + "/fern-house.course.toml");
        const vast_turn::Robot robot = vast_turn::load_robot(folder + "/sprig-2.robot.toml");
        const vast_turn::Scene scene(course, robot);

        int both = 0; // looks in a row in which both sensors saw line
        const auto decide = [&both](const vast_turn::Look& look, vast_turn::Answer& answer) {
            const bool left = (look.line_bits & 1) != 0;
            const bool right = (look.line_bits & 2) != 0;
            both = left && right ? both + 1 : 0;
            answer.halted = both >= 14;
            answer.left_pct = right ? 47 : (left ? -24 : 47);
            answer.right_pct = right ? -24 : 47;
        };
        const vast_turn::Run run = vast_turn::drive(scene, vast_turn::Decide(decide));

        for (const std::string& place : vast_turn::route_of(course, run)) {
            std::printf("%s\n", place.c_str());
        }
        std::printf("%s after %.2f s\n", vast_turn::name_of(run.ending), run.time_s);
    } catch (const vast_turn::InputError& error) {
        std::fputs(error.what(), stderr);
        return 2;
    }
}
