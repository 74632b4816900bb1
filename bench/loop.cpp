#include "loop.hpp"

#include <cstdio>
#include <cstdlib>

#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

namespace bench {

using namespace vast_turn;

Course winding_loop() {
    return parse_course(R"(
name = "Winding loop"
size_mm = [1700, 1100]
cell_mm = 1.0
[[tape]]
path = "M 300,200 C 500,90 700,330 900,200 S 1300,90 1450,280 S 1330,560 1480,700 S 1300,980 1080,880 S 820,700 640,860 S 240,960 200,720 S 380,560 260,430 S 180,270 300,200 Z"
[[start]]
name = "start"
at_mm = [300, 200]
heading_deg = 29
)",
                        "winding loop");
}

Robot five_sensors() {
    Robot robot;
    robot.name = "Sprig-5";
    for (int i = 0; i < 5; ++i) {
        LineSensor sensor;
        sensor.at_mm = {62.0, 14.0 * (2 - i)};
        sensor.noise = 4.0;
        robot.sensors.push_back(sensor);
    }
    return robot;
}

Plan follower() {
    const Compiled compiled = compile_plan("plan \"loop\"\nsensors 5\nlet cruise = 52\nhabit follow {\n    [.....] -> "
                                           "keep\n    else -> bend(46 * offset, cruise)\n}\n",
                                           "loop.plan");
    if (!compiled.plan) {
        std::fputs(to_text(compiled.problems).c_str(), stderr);
        std::abort();
    }
    return *compiled.plan;
}

Outcome run_library(const Scene& scene, const Plan& plan) { return run_on_a_day(scene, plan, {}); }

Outcome run_on_a_day(const Scene& scene, const Plan& plan, const std::vector<DayValue>& day) {
    RunOptions options;
    options.time_limit_s = run_s;
    options.step_ms = step_ms;
    options.keep_looks = false; // the two other ways keep none either
    options.set = day;
    const Run run = drive(scene, plan, options);
    return {run.way_mm, run.ending == Ending::time_over};
}

} // namespace bench
