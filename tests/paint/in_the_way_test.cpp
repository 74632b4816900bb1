#include <algorithm>
#include <cmath>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/scene.hpp"

using namespace vast_turn;
using fixtures::call_vturn;
using fixtures::message_of;

namespace {

/// A drawn aisle with a box askew on it, a round tank and an L-shaped bench, all of one red.
std::string drawn(const fixtures::Folder& folder, const std::string& keys) {
    write_file(
        folder.file("d.svg"),
        "<svg xmlns='http://www.w3.org/2000/svg' width='900mm' height='600mm' viewBox='0 0 900 600'>"
        "<rect width='900' height='600' fill='#EDEAE2'/>"
        "<path d='M 60,300 H 840' fill='none' stroke='#1B1B1B' stroke-width='19'/>"
        "<rect x='-40' y='-27' width='80' height='54' fill='#B03A2E' transform='translate(500 300) rotate(-24)'/>"
        "<circle cx='200' cy='470' r='60' fill='#B03A2E'/>"
        "<path d='M 600,60 H 800 V 100 H 640 V 200 H 600 Z' fill='#B03A2E'/>"
        "<rect x='400' y='500' width='5' height='5' fill='#B03A2E'/></svg>");
    write_file(folder.file("c.course.toml"), "name = \"c\"\ndrawing = \"d.svg\"\n" + keys +
                                                 "[[start]]\nname = \"west\"\nat_mm = [90, 300]\nheading_deg = 0\n");
    return folder.file("c.course.toml");
}

/// How far a point is from the nearest wall.
double to_wall(const Course& course, Vec2 p) {
    double best = 1e9;
    for (const Wall& wall : course.walls) {
        best = std::min(best, length(p - nearest_on_segment(p, wall.from, wall.to)));
    }
    return best;
}

} // namespace

TEST_CASE("a colour of a drawing stands for what is in the way: boxes as things, other shapes as walls round them") {
    const fixtures::Folder folder;
    const std::string file = drawn(folder, "[[in_the_way]]\ncolour = \"#B03A2E\"\nname = \"crate\"\n");
    const Course course = load_course(file);
    REQUIRE(course.things.size() == 1);
    const Thing& crate = course.things[0];
    CHECK(crate.name == "crate");
    CHECK(length(crate.at - Vec2{500.0, 300.0}) < 0.5);
    CHECK(crate.size_mm.x == doctest::Approx(80.0).epsilon(0.01));
    CHECK(crate.size_mm.y == doctest::Approx(54.0).epsilon(0.01));
    CHECK(std::abs(std::remainder(crate.heading_deg - 24.0, 180.0)) < 0.5);
    for (int degree = 0; degree < 360; degree += 5) { // round the tank
        CAPTURE(degree);
        CHECK(to_wall(course, Vec2{200.0, 470.0} + 60.0 * direction(degree)) < 1.0);
    }
    for (const Vec2 corner : {Vec2{600, 60}, {800, 60}, {800, 100}, {640, 100}, {640, 200}, {600, 200}}) {
        CHECK(to_wall(course, corner) < 1.0);
    }
    CHECK(to_wall(course, {402.0, 502.0}) > 50.0); // too small
    CHECK(course.walls.size() < 60);
    CHECK(course.palette.empty()); // it is no plate
    CHECK(course.markers.empty());
    // The floor is as it is drawn, unless it is said how it looks.
    const auto at = [](const Course& c, double x, double y) {
        return c.surface.at(static_cast<int>(x / c.surface.cell_mm), static_cast<int>(y / c.surface.cell_mm));
    };
    CHECK(at(course, 200, 470) == Rgb{0xB0, 0x3A, 0x2E});
    const Course bare = load_course(drawn(folder, "[[in_the_way]]\ncolour = \"#B03A2E\"\nlooks = \"floor\"\n"));
    for (int row = 0; row < bare.surface.rows; ++row) {
        for (int column = 0; column < bare.surface.columns; ++column) {
            const Rgb c = bare.surface.at(column, row);
            if (std::abs(row * bare.surface.cell_mm - 300.0) > 60.0 && c != bare.floor) { // away from the line
                const double y = row * bare.surface.cell_mm;
                const double x = column * bare.surface.cell_mm;
                CHECK_MESSAGE((std::abs(x - 402.0) < 5.0 && std::abs(y - 502.0) < 5.0), x << "," << y);
            }
        }
    }
    CHECK(at(load_course(drawn(folder, "[[in_the_way]]\ncolour = \"#B03A2E\"\nlooks = \"#445566\"\n")), 200, 470) ==
          Rgb{0x44, 0x55, 0x66});
    CHECK(load_course(drawn(folder, "")).things.empty());
}

TEST_CASE("a robot comes to what is painted in its way") {
    const fixtures::Folder folder;
    const std::string file = drawn(folder, "[[in_the_way]]\ncolour = \"#B03A2E\"\n");
    write_file(folder.file("p.plan"),
               "plan \"p\"\nsensors 5\nhabit f {\n    range < 60mm -> note(\"something\"), halt\n"
               "    [.##..] mirrored -> bend(9, 40)\n    else -> ahead(40)\n}\n");
    const fixtures::Called run = call_vturn({"run", file, "data/fern-house/sprig-5.robot.toml", folder.file("p.plan")});
    CHECK(run.status == 0);
    CHECK(run.out.find("something") != std::string::npos);
    const fixtures::Called map = call_vturn({"map", file});
    CHECK(map.out.find("drawn thing") != std::string::npos);
    CHECK(map.out.find("deg askew") != std::string::npos);
}

TEST_CASE("colours of what is in the way are refused where they cannot be meant") {
    CHECK(message_of([] {
              parse_course("name = \"n\"\nsize_mm = [300, 300]\n[[in_the_way]]\ncolour = \"#B03A2E\"\n", "c");
          }).find("there is no drawing that could show this") != std::string::npos);
    const fixtures::Folder folder;
    std::string noise =
        "<svg xmlns='http://www.w3.org/2000/svg' width='1200mm' height='1200mm' viewBox='0 0 1200 1200'>"
        "<rect width='1200' height='1200' fill='#EDEAE2'/><path fill='#B03A2E' d='";
    for (int row = 0; row < 80; ++row) { // crosses of twelve corners
        for (int column = 0; column < 80; ++column) {
            noise += fmt::format("M {},{} h 4 v 3 h 3 v 4 h -3 v 3 h -4 v -3 h -3 v -4 h 3 z ", 8 + column * 14,
                                 8 + row * 14);
        }
    }
    write_file(folder.file("d.svg"), noise + "'/><path d='M 5,1195 H 1190' stroke='#1B1B1B' stroke-width='8'/></svg>");
    write_file(
        folder.file("c.course.toml"),
        "name = \"c\"\ndrawing = \"d.svg\"\nfloor = \"#EDEAE2\"\nline = { colour = \"#1B1B1B\" }\n[palette]\nteal = "
        "\"#148C82\"\n[[in_the_way]]\ncolour = \"#B03A2E\"\n");
    const std::string words = message_of([&] { load_course(folder.file("c.course.toml")); });
    CHECK(words.find("more than 20,000 corners") != std::string::npos);
}

TEST_CASE("a variant takes away what is drawn in the way: all of it, or one thing, and floor is seen there") {
    const fixtures::Folder folder;
    write_file(folder.file("d.svg"),
               "<svg xmlns='http://www.w3.org/2000/svg' width='900mm' height='600mm' viewBox='0 0 900 600'>"
               "<rect width='900' height='600' fill='#EDEAE2'/>"
               "<path d='M 60,300 H 840' fill='none' stroke='#1B1B1B' stroke-width='19'/>"
               "<rect x='200' y='80' width='70' height='50' fill='#B03A2E'/>"
               "<rect x='500' y='80' width='90' height='50' fill='#B03A2E'/>"
               "<circle cx='300' cy='470' r='50' fill='#B03A2E'/></svg>");
    const auto text = [](const char* without) {
        return fmt::format("name = \"c\"\ndrawing = \"d.svg\"\n[[in_the_way]]\ncolour = \"#B03A2E\"\nname = \"crate\"\n"
                           "[[start]]\nname = \"west\"\nat_mm = [90, 300]\nheading_deg = 0\n"
                           "[[variant]]\nname = \"other\"\nwithout = [{}]\n",
                           without);
    };
    const auto other = [&](const char* without) {
        write_file(folder.file("c.course.toml"), text(without));
        return load_course(folder.file("c.course.toml"), "other");
    };
    const auto looks_bare = [](const Course& c, double x, double y) {
        return c.surface.at(static_cast<int>(x / c.surface.cell_mm), static_cast<int>(y / c.surface.cell_mm)) ==
               c.floor;
    };
    const Course all = other("");
    REQUIRE(all.things.size() == 2);
    CHECK(all.things[1].name == "crate 2");
    CHECK_FALSE(all.walls.empty());
    CHECK_FALSE(looks_bare(all, 545.0, 105.0));
    const Course one = other("\"crate 2\"");
    REQUIRE(one.things.size() == 1);
    CHECK(one.things[0].at == all.things[0].at);
    CHECK(looks_bare(one, 545.0, 105.0));
    CHECK_FALSE(looks_bare(one, 235.0, 105.0));
    CHECK(one.walls.size() == all.walls.size());
    const Course none = other("\"crate\"");
    CHECK(none.things.empty());
    CHECK(none.walls.empty());
    CHECK(looks_bare(none, 300.0, 470.0));
    CHECK(message_of([&] { other("\"crat\""); }).find("did you mean `crate`") != std::string::npos);
}

TEST_CASE("what is in the way may be painted on the drawings of pieces") {
    const fixtures::Folder folder;
    write_file(folder.file("aisle.svg"),
               "<svg xmlns='http://www.w3.org/2000/svg' width='240mm' height='240mm' viewBox='0 0 240 240'>"
               "<rect width='240' height='240' fill='#EDEAE2'/>"
               "<path d='M 0,120 H 240' stroke='#1B1B1B' stroke-width='19'/>"
               "<rect x='90' y='30' width='60' height='40' fill='#B03A2E'/></svg>");
    const auto lay = [&](const char* piece) {
        write_file(folder.file("p.pieces.toml"),
                   std::string("name = \"p\"\nside_mm = 240\n[[piece]]\nname = \"aisle\"\n"
                               "ways = [\"west\", \"east\"]\n") +
                       piece);
        write_file(folder.file("c.course.toml"), "name = \"c\"\npieces = \"p.pieces.toml\"\ncell_mm = 1\n"
                                                 "layout = \"aisle aisle\"\n[[in_the_way]]\ncolour = \"#B03A2E\"\n"
                                                 "name = \"crate\"\n");
        return load_course(folder.file("c.course.toml"));
    };
    const Course course = lay("drawing = \"aisle.svg\"\n");
    REQUIRE(course.things.size() == 2);
    CHECK(length(course.things[0].at - Vec2{120.0, 50.0}) < 0.5);
    CHECK(length(course.things[1].at - Vec2{360.0, 50.0}) < 0.5);
    CHECK(message_of([&] { lay("tape = [{ path = \"M 0,120 H 240\" }]\n"); }).find("there is no drawing") !=
          std::string::npos);
}
