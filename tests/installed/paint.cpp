// A course made in memory, painted and driven over by code; no file takes part.
#include "vast_turn/paint/surface.hpp"
#include "vast_turn/sim/run.hpp"

int main() {
    vast_turn::Course course;
    course.width_mm = 1100.0;
    course.height_mm = 420.0;
    vast_turn::Tape tape;
    tape.path = {{60.0, 210.0}, {1040.0, 210.0}};
    course.tapes.push_back(tape);
    course.starts.push_back({"west", {{110.0, 210.0}, 0.0}});
    vast_turn::paint_surface(course, 1.0);
    vast_turn::Robot robot;
    robot.sensors.resize(2);
    robot.sensors[0].at_mm = {52.0, 14.0};
    robot.sensors[1].at_mm = {52.0, -14.0};
    const vast_turn::Scene scene(course, robot);
    const vast_turn::Run run = vast_turn::drive(scene, [](const vast_turn::Look& look, vast_turn::Answer& answer) {
        answer.left_pct = answer.right_pct = 41.0;
        answer.halted = look.way_mm > 300.0;
    });
    return run.ending == vast_turn::Ending::halted ? 0 : 1;
}
