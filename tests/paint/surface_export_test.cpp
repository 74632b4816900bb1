#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/surface_export.hpp"

#include <doctest/doctest.h>

#include "course/graph/random_course.hpp"
#include "support/drawn_course.hpp"
#include "support/rounds.hpp"

using namespace vast_turn;
using fixtures::largest_difference;

namespace {

/// The course drawn anew from an exported file; its colours are those of the course, so that the floor beyond is too.
Course read_back(const fixtures::DrawnCourse& d, const Course& course, const std::string& name,
                 const std::string& more = {}) {
    Course again = d.load(name, "cell_mm = " + std::to_string(course.surface.cell_mm) + "\n" + more);
    CHECK(again.width_mm == doctest::Approx(course.width_mm).epsilon(1e-9));
    return again;
}

} // namespace

TEST_CASE("a taped course exported as SVG reads back to the same surface, to the last bit") {
    const fixtures::DrawnCourse d;
    for (const char* name : {"mist-round", "fern-house", "night-round"}) {
        if (fixtures::sanitized() && std::string(name) != "mist-round") {
            continue; // all go the same ways of the code
        }
        CAPTURE(name);
        const std::string path = std::string("data/fern-house/") + name + ".course.toml";
        const fixtures::Called called = fixtures::call_vturn({"map", path, "--export", d.folder.file("back.svg")});
        REQUIRE(called.status == 0);
        const Course course = load_course(path);
        CHECK(read_file(d.folder.file("back.svg")).find("<image") == std::string::npos);
        CHECK(largest_difference(read_back(d, course, "back.svg"), course) == 0);
    }
    for (std::uint32_t seed = 1; seed <= static_cast<std::uint32_t>(fixtures::rounds(8, 2, 1)); ++seed) {
        CAPTURE(seed);
        const Course course = fixtures::random_course(seed).course;
        write_file(d.folder.file("back.svg"), surface_svg(course));
        CHECK(largest_difference(read_back(d, course, "back.svg"), course) == 0);
    }
}

TEST_CASE("a drawn course exported as SVG or PNG reads back to the last bit" *
          doctest::skip(fixtures::sanitized())) { // the taped one writes and reads the same there
    const fixtures::DrawnCourse d;
    const std::string path = "data/fern-house/glass-wing.course.toml";
    const Course course = load_course(path);
    for (const char* name : {"back.svg", "back.png"}) {
        CAPTURE(name);
        const fixtures::Called called = fixtures::call_vturn({"map", path, "--export", d.folder.file(name)});
        REQUIRE(called.status == 0);
        const bool png = std::string(name) == "back.png";
        CHECK(called.err == (png ? d.folder.file(name) + ": mm_per_px = 0.5\n" : ""));
        CHECK(largest_difference(read_back(d, course, name, png ? "mm_per_px = 0.5\n" : ""), course) == 0);
    }
    // Tape that the course file adds to the drawing is exported too.
    const std::string more = "[[tape]]\npath = \"M 40,40 H 170\"\n";
    const Course mixed = d.svg("width='203.3mm' height='80mm' viewBox='0 0 203.3 80'",
                               "<rect width='210' height='80' fill='#EDEAE2'/><circle cx='90' cy='40' r='12'/>", more);
    write_file(d.folder.file("back.svg"), surface_svg(mixed));
    CHECK(largest_difference(read_back(d, mixed, "back.svg"), mixed) == 0);
}

TEST_CASE("what cannot be exported says so and leaves no file") {
    const fixtures::Folder folder;
    const fixtures::Called called =
        fixtures::call_vturn({"map", "data/fern-house/turns.course.toml", "--export", folder.file("x.gif")});
    CHECK(called.status == 2);
    CHECK(called.err.find("ends in .svg or .png") != std::string::npos);
    CHECK(folder.names().empty());
    CHECK_THROWS_AS(surface_svg(Course{}), InputError);
    CHECK_THROWS_AS(surface_png(Course{}), InputError);
}
