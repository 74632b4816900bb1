// A course drawn by code: tape laid piece by piece, saved as a course file, and what is found on its floor.
#include <iostream>

#include "vast_turn/course/board/tape_pen.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/formats/write/course_toml.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/surface.hpp"

using namespace vast_turn;

int main(int count, char** words) {
    Course course;
    course.name = "Seedling aisle";
    course.width_mm = 1340.0;
    course.height_mm = 760.0;
    course.palette = {{"amber", {230, 154, 23}}};
    TapePen aisle({110.0, 610.0}, 0.0);
    const Pose fork = aisle.ahead(370.0).pose();
    course.tapes = {aisle.ahead(280.0).left(160.0, 90.0).gap(34.0).ahead(205.0).tape(),
                    TapePen(fork.at, 0.0).left(230.0, 90.0).ahead(170.0).tape()};
    course.markers = {{.colour = "amber", .rgb = {230, 154, 23}, .at = {330.0, 610.0}}};
    course.places = {{.name = "potting bench", .at = {710.0, 225.0}, .radius_mm = 60.0}};
    course.starts = {{.name = "door", .pose = {{160.0, 610.0}, 0.0}}};
    paint_surface(course, 0.5);

    for (const Stretch& line : find_route_graph(course).stretches) {
        std::cout << "a line of " << static_cast<int>(line.length_mm + 0.5) << " mm\n";
    }
    if (count > 1) {
        write_file(words[1], course_toml(course)); // seedling-aisle.course.toml
    }
}
