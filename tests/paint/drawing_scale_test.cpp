/// Drawings whose written size is not their scale.

#include <string>

#include <doctest/doctest.h>

#include "support/drawn_course.hpp"
#include "support/rounds.hpp"

using namespace vast_turn;

namespace {

/// A page of A4's width: what programs write when they mean a board of 2400 x 1200 mm.
const std::string a4_page = "width='210mm' height='105mm' viewBox='0 0 420 210'";
const std::string one_line = "<rect width='420' height='210' fill='#EDEAE2'/>"
                             "<path d='M 60,90 H 360' stroke='#1B1B1B' stroke-width='4'/>";

double line_length(const Course& course) { return course.tapes.size() == 1 ? length_of(course.tapes[0]) : 0.0; }

} // namespace

TEST_CASE("the course file can say the scale of any drawing, whatever size is written in it" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::DrawnCourse d;
    for (const char* keys : {"cell_mm = 1\nsize_mm = [2400, 1200]\n", "cell_mm = 1\nmm_per_px = 5.714286\n",
                             "cell_mm = 1\nmeasured = { from = [60, 90], to = [360, 90], mm = 1714.29 }\n"}) {
        CAPTURE(keys);
        const Course course = d.svg(a4_page, one_line, keys);
        CHECK(course.width_mm == doctest::Approx(2400.0).epsilon(1e-4));
        CHECK(course.height_mm == doctest::Approx(1200.0).epsilon(1e-4));
        CHECK(line_length(course) == doctest::Approx(1714.3).epsilon(0.003));
        CHECK(course.warnings.empty());
    }
    const Course as_written = d.svg(a4_page, one_line);
    CHECK(as_written.width_mm == 210.0);
    const Course pixels =
        d.svg("width='420' height='210' viewBox='0 0 420 210'", one_line, "cell_mm = 1\nsize_mm = [2400, 1200]\n");
    CHECK(line_length(pixels) == doctest::Approx(1714.3).epsilon(0.003));
}

TEST_CASE("a drawing of another shape than the board is fitted uniformly, and that is told") {
    const fixtures::DrawnCourse d;
    const Course course = d.svg(a4_page, one_line, "cell_mm = 1\nsize_mm = [2400, 1500]\n");
    CHECK(course.height_mm == 1500.0);
    CHECK(line_length(course) == doctest::Approx(1714.3).epsilon(0.003));
    REQUIRE(course.warnings.size() == 1);
    CHECK(course.warnings[0].message.find("fitted to 2400 x 1500 mm it takes 2400 x 1200 mm") != std::string::npos);
}

TEST_CASE("what does not tell the scale is refused with all cures; a drawing without lines is never silent") {
    const fixtures::DrawnCourse d;
    const std::string fault = fixtures::message_of([&] { d.svg("viewBox='0 0 420 210'", one_line); });
    for (const char* cure : {"size_mm = [wide, high]", "mm_per_px = 0.5", "measured = { from"}) {
        CHECK(fault.find(cure) != std::string::npos);
    }
    CHECK(fixtures::message_of([&] {
              d.svg(a4_page, one_line, "measured = { from = [9, 9], to = [9, 9], mm = 90 }\n");
          }).find("the two points are the same") != std::string::npos);
    CHECK(fixtures::message_of([&] {
              d.svg(a4_page, one_line, "mm_per_px = 2\nmeasured = { from = [9, 9], to = [90, 9], mm = 90 }\n");
          }).find("exclude each other") != std::string::npos);
    const Course empty =
        d.svg(a4_page, "<rect width='420' height='210' fill='#EDEAE2'/>", "cell_mm = 1\nsize_mm = [2400, 1200]\n");
    REQUIRE(empty.warnings.size() == 1);
    CHECK(empty.warnings[0].message.find("no line was found on this drawing") != std::string::npos);
}
