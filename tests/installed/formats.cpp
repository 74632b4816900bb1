// A robot and a taped course from text; nothing is painted.
#include <iostream>

#include "vast_turn/formats/read/course_sheet.hpp"
#include "vast_turn/formats/read/robot_file.hpp"

int main(int argc, char** argv) {
    try {
        const vast_turn::Robot robot =
            vast_turn::load_robot(std::string(argc > 1 ? argv[1] : ".") + "/sprig-2.robot.toml");
        const vast_turn::CourseSheet sheet = vast_turn::parse_course_sheet(
            "name = \"aisle\"\nsize_mm = [730, 410]\n[[tape]]\npath = \"M 40,200 H 690\"\n", "aisle");
        return robot.sensors.size() == 2 && sheet.course.tapes.size() == 1 ? 0 : 1;
    } catch (const vast_turn::InputError& error) {
        std::cerr << error.what();
        return 2;
    }
}
