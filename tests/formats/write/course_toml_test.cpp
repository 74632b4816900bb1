/// Courses written as course files and read again.

#include <filesystem>
#include <stdexcept>
#include <string>

#include <doctest/doctest.h>

#include "support/drawn_course.hpp"
#include "support/rounds.hpp"
#include "vast_turn/course/board/tape_pen.hpp"
#include "vast_turn/formats/write/course_toml.hpp"
#include "vast_turn/paint/surface.hpp"

using namespace vast_turn;

TEST_CASE("every taped course of the fern house, written and read again, is the same") {
    int courses = 0;
    int seen = 0;
    for (const auto& entry : std::filesystem::directory_iterator("data/fern-house")) {
        const std::string path = entry.path().string();
        if (path.find(".course.toml") == std::string::npos) {
            continue;
        }
        const bool sits_out =
            fixtures::sanitized() ? path.find("stages") == std::string::npos : seen++ % fixtures::rounds(1, 4, 1) != 0;
        if (sits_out) { // each is painted twice, which takes seconds
            continue;
        }
        const Course course = load_course(path);
        if (!course.drawing.empty()) {
            continue;
        }
        CAPTURE(path);
        ++courses;
        const std::string text = course_toml(course);
        const Course again = parse_course(text, "again");
        CHECK(course_toml(again) == text);
        // Points are rounded to a ten-thousandth: an edge may take in another of the samples of a cell.
        CHECK(fixtures::largest_difference(course, again) <= 16);
        CHECK(again.starts.size() == course.starts.size());
        CHECK(again.things.size() == course.things.size());
        CHECK(again.variants.size() == course.variants.size());
        CHECK(again.palette == course.palette);
    }
    CHECK(courses >= fixtures::rounds(8, 2, 1));
}

TEST_CASE("a course with a drawing names it; what was found on it is not written") {
    const fixtures::DrawnCourse d;
    const Course course = d.svg("width='400mm' height='300mm' viewBox='0 0 400 300'",
                                "<rect width='400' height='300' fill='#E4E7DE'/><path d='M 40,150 H 360' "
                                "stroke='#20242A' stroke-width='17'/><rect x='200' y='130' width='40' height='40' "
                                "fill='#148C82'/>",
                                "[[place]]\nname = \"by \\\"the\\\" door\"\nat_mm = [60, 150]\n");
    CHECK(course_toml(course) == "name = \"c\"\nsize_mm = [400, 300]\ndrawing = \"d.svg\"\ncell_mm = 0.5\n\n[[place]]\n"
                                 "name = \"by \\\"the\\\" door\"\nat_mm = [60, 150]\nradius_mm = 40\n");
}

TEST_CASE("a pen lays tape: ways, bends, gaps, and where the next piece begins") {
    TapePen pen({100.0, 400.0}, 0.0, 15.0);
    const Tape tape = pen.ahead(200.0).left(80.0, 90.0).gap(30.0).ahead(50.0).right(60.0, 45.0).tape();
    CHECK(tape.width_mm == 15.0);
    REQUIRE(tape.gaps.size() == 1);
    CHECK(tape.gaps[0].from_mm == doctest::Approx(200.0 + 80.0 * pi / 2.0).epsilon(1e-4));
    CHECK(length_of(tape) == doctest::Approx(280.0 + 80.0 * pi / 2.0 + 60.0 * pi / 4.0).epsilon(1e-4));
    CHECK(pen.pose().heading_deg == doctest::Approx(45.0));
    CHECK(pen.pose().at.x == doctest::Approx(380.0 + 60.0 * (1.0 - std::cos(pi / 4.0))));
    CHECK(pen.pose().at.y == doctest::Approx(240.0 - 60.0 * std::sin(pi / 4.0)));
    CHECK(pen.ahead(-3.0).left(0.0, 90.0).gap(0.0).pose().heading_deg == doctest::Approx(45.0)); // lays nothing
    CHECK(TapePen({0.0, 0.0}, 0.0).ahead(9.0).right(9.0, 90.0).close().tape().closed);
    CHECK_THROWS_AS(TapePen({0.0, 0.0}, 0.0).tape(), std::logic_error);
}
