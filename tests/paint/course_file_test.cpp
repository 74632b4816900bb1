#include "vast_turn/paint/course_file.hpp"

#include <doctest/doctest.h>

using namespace vast_turn;

namespace {

const char* const whole_file = R"(
name = "Aisle"
size_mm = [600, 400]
floor = "#F0F0F0"
line = { colour = "#101010", width_mm = 20 }
cell_mm = 0.5
[[tape]]
path = "M 0,200 H 600"
gaps_mm = [[100, 50]]
[[tape]]
path = "M 300,0 V 60 M 300,340 V 400"
width_mm = 12
[palette]
amber = "#E69A17"
teal = "#148C82"
[[marker]]
colour = "amber"
at_mm = [400, 200]
size_mm = [40, 28]
heading_deg = 90
[[place]]
name = "dock"
at_mm = [550, 200]
radius_mm = 33
[[thing]]
name = "watering can"
at_mm = [500, 300]
size_mm = [90, 60]
until_s = 7.5
[[wall]]
from_mm = [10, 20]
to_mm = [30, 40]
[[start]]
name = "bench"
at_mm = [40, 200]
heading_deg = -90
[[trip]]
name = "go"
from = "bench"
visits = ["dock"]
ends = "off course"
within_s = 9
)";

Rgb at(const Course& course, double x, double y) {
    return course.surface.at(static_cast<int>(x / course.surface.cell_mm),
                             static_cast<int>(y / course.surface.cell_mm));
}

} // namespace

TEST_CASE("a course file is read whole") {
    const auto [course, trips] = parse_course_file(whole_file, "aisle");
    CHECK(course.name == "Aisle");
    CHECK(course.tapes.size() == 3);
    CHECK(course.tapes[0].width_mm == 20.0);
    CHECK(course.tapes[0].gaps.size() == 1);
    CHECK(course.tapes[2].width_mm == 12.0);
    CHECK(course.markers.at(0).rgb == Rgb{230, 154, 23});
    CHECK(course.places.at(0).radius_mm == 33.0);
    CHECK(course.things.at(0).until_s == 7.5);
    CHECK(course.walls.at(0).to == Vec2{30.0, 40.0});
    CHECK(course.starts.at(0).pose.heading_deg == -90.0);
    CHECK(trips.at(0).ends == Ending::off_course);
    CHECK(trips.at(0).line == 37);
    CHECK(trips.at(0).off_course_mm == 250.0);
}

TEST_CASE("the surface shows floor, tape, gaps and markers where the file says") {
    const Course course = parse_course(whole_file, "aisle");
    CHECK(course.surface.columns == 1200);
    CHECK(course.surface.rows == 800);
    const Rgb floor{0xF0, 0xF0, 0xF0};
    const Rgb line{0x10, 0x10, 0x10};
    CHECK(at(course, 50, 200) == line);
    CHECK(at(course, 50, 191) == line);
    CHECK(at(course, 50, 189) == floor);
    CHECK(at(course, 125, 200) == floor);
    CHECK(at(course, 99, 200) == line);
    CHECK(at(course, 151, 200) == line);
    CHECK(at(course, 300, 30) == line);
    CHECK(at(course, 307, 30) == floor);
    const Rgb amber{230, 154, 23};
    CHECK(at(course, 400, 219) == amber); // 40 mm along its heading, which is up
    CHECK(at(course, 413, 200) == amber);
    CHECK(at(course, 415, 200) == line);
    CHECK(at(course, 400, 221) == floor);
}

TEST_CASE("edges are smoothed by the part of a cell that is covered") {
    const Course course = parse_course("name = \"c\"\nsize_mm = [100, 100]\ncell_mm = 1\nfloor = \"#FFFFFF\"\nline = { "
                                       "colour = \"#000000\", width_mm = 10.5 }\n[[tape]]\npath = \"M 0,50 H 100\"\n",
                                       "c");
    CHECK(course.surface.at(50, 50).r == 0);                                  // cells of 1 mm
    CHECK(course.surface.at(50, 44).r == doctest::Approx(191).epsilon(0.02)); // a quarter of the cell is tape
    CHECK(course.surface.at(50, 43).r == 255);
}

TEST_CASE("defaults hold for what the file leaves out") {
    const Course course = parse_course("name = \"c\"\nsize_mm = [100, 100]\n", "c");
    CHECK(course.surface.cell_mm == 0.5);
    CHECK(parse_course("name = \"c\"\nsize_mm = [4000, 2000]\n", "c").surface.cell_mm == 1.0);
    CHECK(course.floor == Rgb{237, 234, 226});
    CHECK(parse_course_file("name = \"c\"\nsize_mm = [100, 100]\n", "c").trips.empty());
}
