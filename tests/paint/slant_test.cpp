/// Photographs taken at a slant, with lenses that bow.

#include <string>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/brought.hpp"
#include "support/drawn_course.hpp"
#include "support/rounds.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

using namespace vast_turn;

namespace {

/// A cross of two lines, its arms and their ends known.
fixtures::MixedCourse cross() {
    fixtures::MixedCourse mixed;
    mixed.board_mm = {900.0, 600.0};
    mixed.svg = "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"900mm\" height=\"600mm\" viewBox=\"0 0 900 600\">\n"
                "<rect width=\"900\" height=\"600\" fill=\"#EFECE4\"/>\n<path d=\"M 90,300 H 810 M 450,80 V 520\" "
                "stroke=\"#23211F\" stroke-width=\"18\"/></svg>\n";
    mixed.sheet = "name = \"cross\"\ndrawing = \"d.svg\"\n[palette]\namber = \"#E69A17\"\n";
    return mixed;
}

Course course_of(const fixtures::DrawnCourse& d, const fixtures::Brought& brought) {
    write_file(d.folder.file(brought.name), brought.bytes);
    write_file(d.folder.file("c.course.toml"), brought.sheet);
    return load_course(d.folder.file("c.course.toml"));
}

double worst_node(const RouteGraph& graph) {
    double worst = 0.0;
    for (const Vec2 at : {Vec2{90, 300}, Vec2{810, 300}, Vec2{450, 80}, Vec2{450, 520}, Vec2{450, 300}}) {
        double nearest = 1e9;
        for (const Node& node : graph.nodes) {
            nearest = std::min(nearest, length(node.at - at));
        }
        worst = std::max(worst, nearest);
    }
    return worst;
}

} // namespace

TEST_CASE("a photograph at a slant is turned by its corners, and the bow of its lens found from the board's border") {
    const fixtures::DrawnCourse d;
    struct Shot {
        double tilt_deg;
        double turn_deg;
        double bow;
    };
    for (const Shot& shot : {Shot{0.0, 3.0, 0.0}, {24.0, -12.0, 0.0}, {35.0, 9.0, -0.09}, {17.0, 21.0, 0.05}}) {
        if (fixtures::sanitized() && !(shot.bow < 0.0)) {
            continue; // one goes all the ways of the code
        }
        CAPTURE(shot.tilt_deg);
        const fixtures::Brought brought =
            fixtures::photographed(cross(), {shot.tilt_deg, shot.turn_deg, shot.bow, 900, 675});
        const Course course = course_of(d, brought);
        CHECK(course.width_mm == doctest::Approx(900.0));
        const RouteGraph graph = find_route_graph(course);
        CHECK(graph.nodes.size() == 5);
        CHECK(worst_node(graph) < 2.0 * brought.mm_a_pixel);
        REQUIRE(course.drawing_notes.size() == 2);
        CHECK(course.drawing_notes[1].find("is straight within 0.") != std::string::npos);
        CHECK((course.drawing_notes[1].find("lens_bow = ") != std::string::npos) == (shot.bow != 0.0));
    }
}

TEST_CASE("lines that run along the border and stand out more than it are not taken for it" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::DrawnCourse d;
    fixtures::MixedCourse beside = cross();
    beside.svg.insert(beside.svg.find("</svg>"), "<path d=\"M 60,26 H 840 M 60,574 H 840 M 26,60 V 540\" fill=\"none\" "
                                                 "stroke=\"#0B0B0C\" stroke-width=\"18\"/>");
    for (const double bow : {-0.05, 0.04}) {
        if (fixtures::sanitized() && bow > 0.0) {
            continue;
        }
        CAPTURE(bow);
        const Course course = course_of(d, fixtures::photographed(beside, {14.0, 9.0, bow, 900, 675}));
        CHECK(worst_node(find_route_graph(course)) < 2.5);
        REQUIRE(course.drawing_notes.size() == 2);
        const std::string& told = course.drawing_notes[1];
        const std::size_t at = told.find("lens_bow = ");
        REQUIRE(at != std::string::npos);
        CHECK(std::stod(told.substr(at + 11)) == doctest::Approx(bow).epsilon(0.15));
    }
}

TEST_CASE("a loop with a soft rim is no page's board where the picture's edge has the colour of that rim") {
    const fixtures::DrawnCourse d;
    // As on a photograph, whose outermost pixels are half of what lies beyond the board.
    const std::string loop = "<path d=\"M 120,300 C 120,200 700,60 780,290 S 120,480 120,300 Z\" fill=\"none\" ";
    const Course course =
        d.svg("width=\"900mm\" height=\"600mm\" viewBox=\"0 0 900 600\"",
              "<rect width=\"900\" height=\"600\" fill=\"#3D3834\"/>"
              "<rect x=\"2\" y=\"2\" width=\"896\" height=\"596\" fill=\"#1F222A\"/>" +
                  loop + "stroke=\"#3D3834\" stroke-width=\"28\"/>" + loop + "stroke=\"#EDEAE5\" stroke-width=\"26\"/>",
              "[line]\nwidth_mm = 27\n");
    CHECK_FALSE(course.board);
    CHECK(find_route_graph(course).stretches.size() == 1);
}

TEST_CASE("the bow that is told can be given, and then nothing is sought") {
    const fixtures::DrawnCourse d;
    fixtures::Brought brought = fixtures::photographed(cross(), {20.0, 5.0, -0.1, 900, 675});
    brought.sheet.insert(brought.sheet.find("corners"), "lens_bow = -0.1\n");
    const Course course = course_of(d, brought);
    CHECK(worst_node(find_route_graph(course)) < 2.0 * brought.mm_a_pixel);
    CHECK(course.drawing_notes[1].find("lens_bow") == std::string::npos);
}

TEST_CASE("uneven light on a slanted photograph is evened out" * doctest::skip(fixtures::sanitized())) {
    const fixtures::DrawnCourse d;
    fixtures::Camera camera{22.0, -6.0, 0.0, 900, 675};
    camera.gloom = 0.45;
    const fixtures::Brought brought = fixtures::photographed(cross(), camera);
    CHECK(worst_node(find_route_graph(course_of(d, brought))) < 2.5 * brought.mm_a_pixel);
}

TEST_CASE("corners that cannot be are refused with a cure") {
    const fixtures::DrawnCourse d;
    const fixtures::Brought brought = fixtures::photographed(cross(), {20.0, 5.0, 0.0, 440, 330});
    write_file(d.folder.file("d.jpg"), brought.bytes);
    const auto fault = [&](const std::string& keys) { return d.fault("d.jpg", keys); };
    const auto four = [](const std::string& a, const std::string& b, const std::string& c, const std::string& e) {
        return fmt::format(
            "corners = [{{ px = {}, mm = [0, 0] }}, {{ px = {}, mm = [900, 0] }}, {{ px = {}, mm = [900, "
            "600] }}, {{ px = {}, mm = [0, 600] }}]\n",
            a, b, c, e);
    };
    CHECK(fault("corners = [{ px = [9, 9], mm = [0, 0] }]\n").find("here are 1") != std::string::npos);
    CHECK(fault(four("[40, 40]", "[400, 40]", "[400, 300]", "[40, 9000]")).find("far beside") != std::string::npos);
    CHECK(fault(four("[40, 40]", "[220, 40]", "[400, 40]", "[40, 300]")).find("no quadrangle") != std::string::npos);
    CHECK(fault(four("[400, 40]", "[40, 40]", "[40, 300]", "[400, 300]")).find("from behind") != std::string::npos);
    CHECK(fault(four("[40, 40]", "[400, 40]", "[400, 300]", "[40, 300]") + "mm_per_px = 1\n")
              .find("exclude each other") != std::string::npos);
    CHECK(fault("mm_per_px = 1\nlens_bow = 0.1\n").find("give corners too") != std::string::npos);
    CHECK(fault(four("[180, 200]", "[260, 200]", "[430, 300]", "[10, 300]") + "size_mm = [900, 90000]\n")
              .find("size_mm") != std::string::npos);
    write_file(d.folder.file("d.svg"), fixtures::svg_head + "viewBox='0 0 9 9'/>");
    CHECK(d.fault("d.svg", four("[0, 0]", "[9, 0]", "[9, 9]", "[0, 9]")).find("an SVG is not seen at a slant") !=
          std::string::npos);
}
