#include "vast_turn/course/board/tape_ends.hpp"

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

TEST_CASE("ends of tape: those at gaps too, not where a closed tape begins nor where other tape lies over them") {
    const Course free = fixtures::board({"M 100,300 H 700"});
    REQUIRE(tape_ends(free).size() == 2);
    CHECK(tape_ends(free)[0].inwards.x == doctest::Approx(1.0));
    CHECK(tape_ends(free)[1].inwards.x == doctest::Approx(-1.0));
    const Course tee = fixtures::board({"M 100,300 H 700", "M 400,300 V 500"});
    CHECK(tape_ends(tee).size() == 3);
    CHECK(tape_ends(fixtures::board({"M 100,100 H 700 V 500 H 100 Z"})).empty());
    const std::string head = "name = \"c\"\nsize_mm = [1000, 600]\n[[tape]]\npath = ";
    const Course gap = parse_course(head + "\"M 100,300 H 700\"\ngaps_mm = [[200, 60]]\n", "c");
    CHECK(tape_ends(gap).size() == 4);
    const Course loop = parse_course(head + "\"M 100,100 H 700 V 500 H 100 Z\"\ngaps_mm = [[200, 60]]\n", "c");
    CHECK(tape_ends(loop).size() == 2);
}
