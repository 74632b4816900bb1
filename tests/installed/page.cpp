// A run over a course made in memory, as a page.
#include "vast_turn/page/page.hpp"

int main() {
    vast_turn::Course course;
    course.name = "bench";
    course.width_mm = 600.0;
    course.height_mm = 200.0;
    course.starts.push_back({"left", {{60.0, 100.0}, 0.0}});
    course.surface.cell_mm = 2.0;
    course.surface.columns = 300;
    course.surface.rows = 100;
    course.surface.cells.resize(30000);
    for (int row = 0; row < 100; ++row) {
        for (int column = 0; column < 300; ++column) {
            course.surface.cells[static_cast<std::size_t>(row * 300 + column)] =
                row >= 45 && row < 55 ? 0x1B1B1BU : 0xEDEAE2U;
        }
    }
    vast_turn::Robot robot;
    robot.sensors.resize(1);
    robot.sensors[0].at_mm = {52.0, 0.0};
    const std::string text = "plan \"on\"\nsensors 1\nhabit follow {\n    [#] -> ahead(40)\n    else -> halt\n}\n";
    const vast_turn::Compiled compiled = vast_turn::compile_plan(text, "on");
    const vast_turn::Scene scene(course, robot);
    vast_turn::RunOptions options;
    options.keep_told = true;
    const vast_turn::Run run = vast_turn::drive(scene, *compiled.plan, options);
    const std::string html = vast_turn::report_page(scene, {{"on", *compiled.plan, text, run}});
    return html.find("</html>") != std::string::npos ? 0 : 1;
}
