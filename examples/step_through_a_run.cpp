/// Stops a run at its sharp bend and asks five times, 0.2 s apart, how far ten looks of full power to both motors would
/// take the robot astray within half a second.
///
///     step_through_a_run [FOLDER]

#include <cstdio>
#include <string>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/step/branches.hpp"
#include "vast_turn/step/stop.hpp"

namespace {

using namespace vast_turn;

/// How far a run strays in half a second when it goes straight on at full power for ten looks from here.
double strays_mm(const SteppedRun& here) {
    SteppedRun usual = here;
    SteppedRun other = here;
    for (int i = 0; i < 10 && !other.is_over(); ++i) {
        other.instead(instead::OtherAnswer{100.0, 100.0});
        other.next();
    }
    const double later_s = here.time_s() + 0.5;
    usual.to_time(later_s);
    other.to_time(later_s);
    return runs_apart(usual.run(), other.run()).most_mm;
}

void step_through(const std::string& folder) {
    const Course course = load_course(folder + "/fern-house.course.toml");
    const Robot robot = load_robot(folder + "/sprig-2.robot.toml");
    const Plan plan = load_plan(folder + "/left-first.plan");
    const Scene scene(course, robot);
    SteppedRun run(scene, plan);
    Stop bend = stop_at_place(course, "sharp bend");
    if (!go_on(run, bend)) {
        std::puts("it never comes to the bend");
        return;
    }
    for (int i = 0; i < 5; ++i) {
        std::printf("look %zu at %.2f s: a slip of 10 looks takes it %.0f mm astray\n", run.at() + 1, run.time_s(),
                    strays_mm(run));
        run.to_time(run.time_s() + 0.2);
    }
    run.to_end();
    std::printf("without any, it ends at %.2f s: %s\n", run.run().time_s, run.run().ended_because.c_str());
}

} // namespace

int main(int argc, char** argv) {
    try {
        step_through(argc > 1 ? argv[1] : "data/fern-house");
    } catch (const InputError& error) {
        std::fputs(error.what(), stderr);
        return 2;
    }
    return 0;
}
