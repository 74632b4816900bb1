#include "vast_turn/trial/plate_route.hpp"

#include <doctest/doctest.h>
#include <fmt/format.h>
#include <fmt/ranges.h>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/trial/trip_result.hpp"

using namespace vast_turn;
using fixtures::message_of;

namespace {

/// A crossing in the middle of a board, come to from the west, with these plates.
std::string crossing(const std::string& plates, const std::string& trip) {
    return "name = \"crossing\"\nsize_mm = [900, 900]\ncell_mm = 1\n"
           "[palette]\namber = \"#E69A17\"\nteal = \"#148C82\"\nmagenta = \"#B81E78\"\n"
           "[[tape]]\npath = \"M 60,450 H 840\"\n[[tape]]\npath = \"M 450,60 V 840\"\n" +
           plates +
           "[[start]]\nname = \"west\"\nat_mm = [90, 450]\nheading_deg = 0\n"
           "[[start]]\nname = \"aside\"\nat_mm = [200, 200]\nheading_deg = 0\n"
           "[[trip]]\nname = \"by plates\"\nfrom = \"west\"\n" +
           trip;
}

std::string plate(const std::string& colour, double x, double y) {
    return fmt::format("[[marker]]\ncolour = \"{}\"\nat_mm = [{}, {}]\nsize_mm = [40, 36]\n", colour, x, y);
}

const std::string meanings = "plates = { amber = \"left\", teal = \"right\", magenta = \"end\" }\n";

/// What is expected, and where it ends: "crossing 1 left; the magenta plate 450,200".
std::string told(const std::string& text, const std::string& robot_file = "data/fern-house/sprig-5.robot.toml") {
    const Robot robot = load_robot(robot_file);
    const CourseFile file = parse_course_file(text, "c.toml");
    const Scene scene(file.course, robot);
    const Trip trip = told_by_plates(scene, file.trips.front());
    CHECK(trip.plates.empty());
    return fmt::format(
        "{}{}", fmt::join(trip.choices, ", "),
        trip.ends_near ? fmt::format("; {} {:g},{:g}", trip.ends_near->what, trip.ends_near->at.x, trip.ends_near->at.y)
                       : "");
}

} // namespace

TEST_CASE("plates tell the choices, straight on where there is none, up to the one that means the end") {
    const std::string end = plate("magenta", 450, 200);
    CHECK(told(crossing(plate("amber", 370, 450) + end, meanings)) == "crossing 1 left; the magenta plate 450,200");
    CHECK(told(crossing(plate("teal", 370, 450) + plate("magenta", 450, 700), meanings)) ==
          "crossing 1 right; the magenta plate 450,700");
    CHECK(told(crossing(plate("magenta", 700, 450), meanings)) == "crossing 1 straight; the magenta plate 700,450");
    // The last plate before the junction counts, one behind it does not.
    CHECK(told(crossing(plate("teal", 200, 450) + plate("amber", 370, 450) + end, meanings)) ==
          "crossing 1 left; the magenta plate 450,200");
    CHECK(told(crossing(plate("amber", 370, 450) + plate("teal", 450, 360) + end, meanings)) ==
          "crossing 1 left; the magenta plate 450,200");
    // Without a plate that means the end it goes on to the end of the line.
    CHECK(told(crossing(plate("amber", 370, 450), "plates = { amber = \"left\" }\n")) == "crossing 1 left");
    // Turned round where it lies: back to where it came from.
    CHECK(told(crossing(plate("teal", 700, 450) + plate("magenta", 130, 450),
                        "plates = { teal = \"back\", magenta = \"end\" }\n"))
              .starts_with("; the magenta plate 130,450")); // it stands before the start's way
}

TEST_CASE("a plate that means to turn round leads back over the junction") {
    CHECK(told(crossing(plate("teal", 700, 450), "plates = { teal = \"back\" }\n")) ==
          "crossing 1 straight, crossing 1 straight");
}

TEST_CASE("plates beside the line mean the side on which they lie, right before the junction") {
    const std::string side = "plates = { amber = \"side\" }\n";
    // A little square in the corner before the crossing: to the left of who comes from the west is the north.
    const auto square = [](double x, double y) {
        return fmt::format("[[marker]]\ncolour = \"amber\"\nat_mm = [{}, {}]\nsize_mm = [24, 24]\n", x, y);
    };
    CHECK(told(crossing(square(427, 427), side)) == "crossing 1 left");
    CHECK(told(crossing(square(427, 473), side)) == "crossing 1 right");
    CHECK(told(crossing(square(473, 427), side)) == "crossing 1 straight"); // behind the junction
    CHECK(told(crossing(square(427, 427) + square(427, 473), side)) == ""); // one on each: turn round
    CHECK(told(crossing(square(200, 427), side)) == "crossing 1 straight"); // far before it
}

TEST_CASE("a way that comes to where it has been is expected as often as the trip has laps") {
    const std::string ring = "name = \"ring\"\nsize_mm = [900, 900]\ncell_mm = 1\n[palette]\namber = \"#E69A17\"\n"
                             "[[tape]]\npath = \"M 200,450 A 250,250 0 0 1 700,450 A 250,250 0 0 1 200,450\"\n"
                             "[[tape]]\npath = \"M 40,450 H 200\"\n"
                             "[[start]]\nname = \"north\"\nat_mm = [450, 200]\nheading_deg = 0\n"
                             "[[trip]]\nname = \"laps\"\nfrom = \"north\"\nplates = { amber = \"left\" }\n"
                             "ends = \"any\"\nlaps = 3\n";
    const std::string words = told(ring);
    CHECK(words == "fork 1 straight, fork 1 straight, fork 1 straight");
}

TEST_CASE("plates that tell no way are refused at the trip's place") {
    const auto refused = [](const std::string& text) {
        return message_of([&] {
            const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
            const CourseFile file = parse_course_file(text, "c.toml");
            const Scene scene(file.course, robot);
            cases_of(scene, file.trips);
        });
    };
    const std::string no_end = refused(crossing(plate("amber", 370, 450), meanings));
    CHECK(no_end.find("c.toml:") == 0);
    CHECK(no_end.find("the plates lead to the end of a line at 450,60 mm, and past no magenta plate") !=
          std::string::npos);
    std::string tee = crossing(plate("magenta", 450, 200), meanings);
    tee.replace(tee.find("M 60,450 H 840"), 14, "M 60,450 H 450");
    CHECK(refused(tee).find("no plate tells the way at fork 1, and no line leads straight on there") !=
          std::string::npos);
    CHECK(refused(crossing(plate("amber", 370, 450), "plates = { amber = \"left\" }\n")).empty());
    std::string aside = crossing("", "plates = { amber = \"left\" }\n");
    aside.replace(aside.find("from = \"west\""), 13, "from = \"aside\"");
    CHECK(refused(aside).find("no line within 90 mm of its start") != std::string::npos);
    CHECK(refused(crossing("", "plates = { amber = \"lefd\" }\n")).find("did you mean `left`") != std::string::npos);
    CHECK(refused(crossing("", "plates = { ambre = \"left\" }\n"))
              .find("no colour of the palette (did you mean `amber`?)") != std::string::npos);
    CHECK(refused(crossing("", "choices = []\nplates = { amber = \"left\" }\n")).find("exclude each other") !=
          std::string::npos);
    CHECK(refused(crossing("", "plates = { }\n")).find("names no colour") != std::string::npos);
}

TEST_CASE("a run that ends elsewhere than at the plate fails, and says so") {
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    const CourseFile file = parse_course_file(crossing(plate("magenta", 700, 450), meanings), "c.toml");
    const Scene scene(file.course, robot);
    const auto plan = [](const std::string& rule) {
        return fixtures::compiled("plan \"p\"\nsensors 5\nmarkers magenta\nhabit f {\n    " + rule +
                                  "\n    [.##..] mirrored -> bend(9, 40)\n    else -> ahead(40)\n}\n");
    };
    const Plan right = plan("magenta -> halt");
    const Plan early = plan("[#####] -> halt");
    CHECK(take_trip(scene, right, file.trips.front()).passed);
    const TripResult stopped = take_trip(scene, early, file.trips.front());
    REQUIRE_FALSE(stopped.passed);
    CHECK(stopped.failures.back().find("expected at the magenta plate, 700,450 mm") != std::string::npos);
    CHECK(stopped.trip.choices == std::vector<std::string>{"crossing 1 straight"}); // as the plates tell it
}
