/// What kind of place along the lines an array is over.
#include <doctest/doctest.h>

#include "sim/line_places.hpp"
#include "support/two_crossings.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;
namespace two = fixtures::two_crossings;

TEST_CASE("a place along the lines: a junction, a plain line also in a bend, a plate, a corner, beside all") {
    const Robot nosed = two::robot_with_nose();
    const Course course = parse_course(two::with_plate(), "aisles");
    const Scene scene(course, nosed);
    CHECK(line_place(scene, {640, 562}) == LinePlace::junction);
    CHECK(line_place(scene, {300, 160}) == LinePlace::plain);
    CHECK(line_place(scene, {602, 198}) == LinePlace::plain); // in the bend of 130 mm
    CHECK(line_place(scene, {640, 690}) == LinePlace::plate);
    CHECK(line_place(scene, {90, 160}) == LinePlace::other);  // the end
    CHECK(line_place(scene, {250, 400}) == LinePlace::other); // beside all
    CHECK(plate_under(scene, {640, 695}) == 0);
    CHECK_FALSE(plate_under(scene, {640, 560}));
    std::string text = two::aisles;
    text.replace(text.find("H 510 A 130,130 0 0 1 640,290"), 29, "H 640");
    const Course square = parse_course(text, "square");
    const Scene cornered(square, nosed);
    CHECK(line_place(cornered, {630, 165}) == LinePlace::other); // the corner
    CHECK(line_place(cornered, {500, 160}) == LinePlace::plain);
}
