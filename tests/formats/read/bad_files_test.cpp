#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/golden.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"

namespace {

std::string robot_message(const std::string& text) {
    return fixtures::message_of([&] { vast_turn::parse_robot(text, "robot"); });
}

std::string course_message(const std::string& text) {
    return fixtures::message_of([&] { vast_turn::parse_course(text, "course"); });
}

} // namespace

TEST_CASE("every bad robot file of the catalogue gets its message") {
    golden::check_catalogue("tests/formats/read/bad-robots.txt", robot_message);
}

TEST_CASE("every bad course file of the catalogue gets its message") {
    golden::check_catalogue("tests/formats/read/bad-courses.txt", course_message);
}

TEST_CASE("a board too large for memory is refused before it is painted") {
    CHECK(course_message("name = \"big\"\nsize_mm = [30000, 30000]\n").find("is too large") != std::string::npos);
    CHECK(course_message("name = \"fine\"\nsize_mm = [9000, 9000]\ncell_mm = 0.1\n").find("is too large") !=
          std::string::npos);
}
