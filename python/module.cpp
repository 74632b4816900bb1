// The Python module: courses, robots, plans, runs and trips as objects, what runs record as numpy arrays.
#include "bindings.hpp"
#include "vast_turn/version.hpp"

PYBIND11_MODULE(vast_turn, module) {
    module.doc() =
        "Decision logic and route tests for line-tracking robots.\n\n"
        "    course = vast_turn.load_course('fern-house.course.toml')\n"
        "    robot = vast_turn.load_robot('sprig-2.robot.toml')\n"
        "    plan = vast_turn.load_plan('left-first.plan')\n"
        "    run = vast_turn.drive(vast_turn.Scene(course, robot), plan)\n"
        "    print(run.route, run.looks['x_mm'].max())\n\n"
        "Lengths are millimetres, headings degrees counter-clockwise from the right of the drawing, y points down.\n"
        "Objects cannot be changed; files that cannot be used raise InputError with all that is wrong.";
    module.attr("__version__") = vast_turn::version_text;
    vast_turn::python::add_problems(module);
    vast_turn::python::add_course(module);
    vast_turn::python::add_robot(module);
    vast_turn::python::add_plan(module);
    vast_turn::python::add_run(module);
    vast_turn::python::add_trips(module);
}
