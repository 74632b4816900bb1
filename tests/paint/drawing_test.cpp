#include <algorithm>
#include <cmath>

#include <cairo.h>
#include <doctest/doctest.h>

#include "support/drawn_course.hpp"
#include "support/rounds.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/paint/surface.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;
using fixtures::DrawnCourse;
using fixtures::largest_difference;
using fixtures::svg_head;

namespace {

/// The surface of tape in the course file, to compare with.
Course by_tape() {
    Course course;
    course.width_mm = 500.0;
    course.height_mm = 300.0;
    course.tapes.push_back({{{40.0, 150.0}, {460.0, 150.0}}, false, 19.0, {}, false});
    paint_surface(course, 0.5);
    return course;
}

const char* const floor_and_line = "<rect width='500' height='300' fill='#EDEAE2'/>"
                                   "<path d='M 40,150 H 460' fill='none' stroke='#1B1B1B' stroke-width='19'/>";

} // namespace

TEST_CASE("an SVG shows the same surface as the same tape in the course file, whatever its units") {
    const DrawnCourse d;
    const Course tape = by_tape();
    CHECK(largest_difference(d.svg("width='500mm' height='300mm' viewBox='0 0 500 300'", floor_and_line), tape) <= 2);
    CHECK(largest_difference(d.svg("width='50cm' height='30cm' viewBox='0 0 500 300'", floor_and_line), tape) <= 2);
    CHECK(largest_difference(d.svg("width='250' height='150' viewBox='0 0 500 300'", floor_and_line, "mm_per_px = 2\n"),
                             tape) <= 2);
    CHECK(largest_difference(d.svg("viewBox='0 0 500 300'", floor_and_line, "mm_per_px = 1\n"), tape) <= 2);
}

TEST_CASE("groups, nested transforms, classes, use, dashes and data of drawing programs") {
    const DrawnCourse d;
    const Course course =
        d.svg("xmlns:ed='http://example.org/editor' width='500mm' height='300mm' viewBox='0 0 500 300'",
              "<ed:view zoom='3'><ed:guide/></ed:view><metadata><anything/></metadata>"
              "<style>.t{fill:none;stroke:#1B1B1B;stroke-width:9.5}</style>"
              "<defs><path id='p' class='t' d='M 20,75 h 210'/></defs>"
              "<rect width='500' height='300' fill='#EDEAE2'/>"
              "<g transform='scale(2)'><g transform='translate(1 2)'><use xlink:href='#p' x='-1' y='-2'/></g></g>");
    CHECK(largest_difference(course, by_tape()) <= 2);
    CHECK(course.warnings.empty());
    const Course dashed =
        d.svg("width='500mm' height='300mm' viewBox='0 0 500 300'",
              "<rect width='500' height='300' fill='#EDEAE2'/><path d='M 40,150 H 460' stroke='#1B1B1B' "
              "stroke-width='19' stroke-dasharray='190 40'/>");
    REQUIRE(dashed.tapes.size() == 1);
    REQUIRE(dashed.tapes[0].gaps.size() == 1);
    CHECK(dashed.tapes[0].gaps[0].length_mm == doctest::Approx(40.0).epsilon(0.03));
}

TEST_CASE("filled shapes of palette colours are markers, at their place, size and heading") {
    const DrawnCourse d;
    const Course course = d.svg(
        "width='500mm' height='300mm' viewBox='0 0 500 300'",
        std::string(floor_and_line) +
            "<rect x='-25' y='-15' width='50' height='30' transform='translate(310 220) rotate(-30)' fill='#148C82'/>"
            "<rect x='100' y='130' width='44' height='40' fill='#E69A17'/>",
        "[palette]\nteal = \"#148C82\"\namber = \"#E69A17\"\n");
    REQUIRE(course.markers.size() == 2);
    const bool first = course.markers[0].colour == "teal";
    const Marker& teal = course.markers[first ? 0 : 1];
    const Marker& amber = course.markers[first ? 1 : 0];
    CHECK(length(teal.at - Vec2{310.0, 220.0}) < 0.5);
    CHECK(teal.length_mm == doctest::Approx(50.0).epsilon(0.02));
    CHECK(teal.across_mm == doctest::Approx(30.0).epsilon(0.02));
    CHECK(std::abs(std::remainder(teal.heading_deg - 30.0, 180.0)) < 1.0);
    CHECK(amber.colour == "amber");
    REQUIRE(course.tapes.size() == 1);
    REQUIRE(course.tapes[0].gaps.size() == 1);
    CHECK(course.tapes[0].gaps[0].length_mm == doctest::Approx(44.0).epsilon(0.03));
}

TEST_CASE("colours that the course does not give are found, also light line on dark; tape of the file is added") {
    const DrawnCourse d;
    const Course night = d.svg(
        "width='500mm' height='300mm' viewBox='0 0 500 300'",
        "<rect width='500' height='300' fill='#20242A'/><path d='M 40,150 H 460' stroke='#D8E2E0' stroke-width='19'/>",
        "[[tape]]\npath = \"M 250,150 V 20\"\n");
    CHECK(night.floor.r == 0x20);
    CHECK(night.tapes.size() == 2);
    CHECK(night.width_mm == 500.0);
    const Course plain = d.svg("width='500mm' height='300mm' viewBox='0 0 500 300'", floor_and_line);
    CHECK(plain.line.r == 0x1B);
    CHECK(plain.floor.b == 0xE2);
}

TEST_CASE("a PNG with its scale gives the same course; cut off or lying ones are refused") {
    const DrawnCourse d;
    const std::string path = d.folder.file("d.png");
    for (const cairo_format_t format : {CAIRO_FORMAT_RGB24, CAIRO_FORMAT_ARGB32}) {
        cairo_surface_t* image = cairo_image_surface_create(format, 500, 300);
        cairo_t* c = cairo_create(image);
        cairo_set_source_rgb(c, 0xED / 255.0, 0xEA / 255.0, 0xE2 / 255.0);
        cairo_paint(c);
        cairo_set_source_rgb(c, 0x1B / 255.0, 0x1B / 255.0, 0x1B / 255.0);
        cairo_rectangle(c, 40.0, 141.0, 420.0, 18.0);
        cairo_fill(c);
        REQUIRE(cairo_surface_write_to_png(image, path.c_str()) == CAIRO_STATUS_SUCCESS);
        cairo_destroy(c);
        cairo_surface_destroy(image);
        const Course course = d.load("d.png", "mm_per_px = 1.5\n");
        CHECK(course.width_mm == 750.0);
        REQUIRE(course.tapes.size() == 1);
        CHECK(course.tapes[0].width_mm == doctest::Approx(27.0).epsilon(0.03));
        CHECK(length_of(course.tapes[0]) == doctest::Approx(630.0).epsilon(0.005));
    }
    CHECK(d.fault("d.png").find("how large is a pixel of this drawing?") != std::string::npos);
    std::string bytes = read_file(path);
    write_file(d.folder.file("cut.png"), bytes.substr(0, bytes.size() / 2));
    CHECK(d.fault("cut.png", "mm_per_px = 1\n").find("cut off or damaged") != std::string::npos);
    write_file(d.folder.file("stub.png"), bytes.substr(0, 12));
    CHECK(d.fault("stub.png", "mm_per_px = 1\n").find("cut off before its size") != std::string::npos);
    bytes[16] = bytes[20] = '\x7f';
    write_file(d.folder.file("lies.png"), bytes);
    CHECK(d.fault("lies.png", "mm_per_px = 1\n").find("is too large") != std::string::npos);
}

TEST_CASE("what of a drawing is not drawn is told; drawings without size, too large, hostile or missing are refused") {
    const DrawnCourse d;
    const Course course = d.svg("width='500mm' height='300mm' viewBox='0 0 500 300'",
                                std::string(floor_and_line) +
                                    "\n<image href='photo.jpg' width='9' height='9'/>\n<text x='9' y='9'>aisle</text>"
                                    "<script>1</script><wobble/>");
    REQUIRE(course.warnings.size() == 4);
    CHECK(course.warnings[0].message.find("photo.jpg") != std::string::npos);
    CHECK(course.warnings[0].place.line == 2);
    CHECK(course.warnings[3].message == "`wobble` is unknown and not drawn");
    const auto refused = [&](const std::string& text, const std::string& more, const char* why) {
        write_file(d.folder.file("x.svg"), text);
        CHECK(d.fault("x.svg", more).find(why) != std::string::npos);
    };
    refused(svg_head + "/>", "", "neither a size nor a viewBox");
    refused(svg_head + "viewBox='0 0 9 9'/>", "", "how large is a user unit of this drawing?");
    refused(svg_head + "width='90mm' height='90mm'/>", "mm_per_px = 900\n", "is no course");
    refused(svg_head + "width='9e30mm' height='90mm'/>", "", "is no course");
    refused("<svg <", "", "cannot be drawn");
    refused("hello", "", "neither SVG, PDF, PNG nor JPEG");
    CHECK(d.fault("nowhere.svg").find("nowhere.svg") != std::string::npos);
    std::string bomb = "<!DOCTYPE svg [<!ENTITY a0 'ha'>";
    for (int i = 1; i < 40; ++i) {
        bomb +=
            "<!ENTITY a" + std::to_string(i) + " '&a" + std::to_string(i - 1) + ";&a" + std::to_string(i - 1) + ";'>";
    }
    refused(bomb + "]>" + svg_head + "width='90mm' height='90mm'><text>&a39;</text></svg>", "", "cannot be drawn");
    write_file(d.folder.file("s.course.toml"), "name = \"s\"\nsize_mm = [100, 100]\nmm_per_px = 3\n");
    CHECK_THROWS_AS(load_course(d.folder.file("s.course.toml")), InputError);
}

TEST_CASE("a drawing that would take for ever or all memory is refused before it is drawn, an ordinary one is not") {
    const DrawnCourse d;
    const std::string page = svg_head + "width='300mm' height='200mm' viewBox='0 0 300 200'>";
    const auto refused = [&](const std::string& body, const char* why) {
        write_file(d.folder.file("x.svg"), page + body + "</svg>");
        const std::string fault = d.fault("x.svg");
        CHECK(fault.find(why) != std::string::npos);
        CHECK(fault.find("simplify it") != std::string::npos);
    };
    std::string uses = "<defs><rect id='a0' width='5' height='5'/>";
    for (int i = 1; i < 9; ++i) {
        uses += "<g id='a" + std::to_string(i) + "'>";
        for (int k = 0; k < 10; ++k) {
            uses += "<use xlink:href='#a" + std::to_string(i - 1) + "'/>";
        }
        uses += "</g>";
    }
    refused(uses + "</defs><use xlink:href='#a8'/>", "s to draw");
    refused("<filter id='f'><feTurbulence numOctaves='90000'/></filter><rect width='9' height='9' filter='url(#f)'/>",
            "s to draw");
    refused("<style>.veil { opacity: 0.5 }</style><filter id='f'><feTurbulence numOctaves='90000'/></filter>"
            "<rect class='veil' width='9' height='9'/>",
            "s to draw");
    std::string chain = "<rect id='u0' width='5' height='5'/>";
    for (int i = 59999; i > 0; --i) {
        chain += "<use id='u" + std::to_string(i) + "' xlink:href='#u" + std::to_string(i - 1) + "'/>";
    }
    refused("<defs>" + chain + "</defs><use xlink:href='#u59999'/>", "holds more than can be drawn");
    std::string scribble = "<path fill='none' stroke='#000' d='M 0 0";
    std::string points = "<polyline points='";
    for (int i = 0; i < 20000; ++i) {
        const std::string at = std::to_string(i * 7919 % 300) + " " + std::to_string(i * 104729 % 200) + " ";
        scribble += "L " + at;
        points += at;
    }
    refused(scribble + "'/>", "s to draw");
    if (fixtures::sanitized()) {
        return; // the rest reads the same with other words
    }
    refused(scribble + " L oops'/>", "s to draw"); // it is drawn up to there
    refused(points + "'/>", "s to draw");
    // The head of a PNG of 60,000 x 60,000 cells says enough.
    refused("<image width='9' height='9' xlink:href='data:image/png;base64,"
            "iVBORw0KGgoAAAANSUhEUgAA6mAAAOpgAQAAAACoqUjvAAAAD0lEQVR4nGNgGAWjgPoAAAJYAAGgxYwD'/>",
            "holds more than can be drawn");
    refused("<path d='M 0 0 " + std::string(200'001 * 2, 'z') + "'/>" + uses + "</defs><use xlink:href='#a8'/>",
            "s to draw");
    const Course veiled = d.svg("width='500mm' height='300mm' viewBox='0 0 500 300'",
                                std::string(floor_and_line) +
                                    "<g opacity='0.9'><rect width='9' height='9'/></g><use xlink:href='#none'/>");
    CHECK(veiled.tapes.size() == 1);
}

TEST_CASE("a robot drives a drawn course: the glass wing, from the west door along the aisle") {
    const Course course = load_course("data/fern-house/glass-wing.course.toml");
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    const Scene scene(course, robot);
    const Plan plan = load_plan("data/fern-house/plans/five-pid.plan");
    RunOptions options;
    options.time_limit_s = 3.0;
    const Run run = drive(scene, plan, options);
    CHECK(run.ending == Ending::time_over); // on the line all the time
    CHECK(run.way_mm > 200.0);              // to and fro: it knows no plates, so it turns at the amber one
}

TEST_CASE("a photograph under uneven light is warned of, and evened out when asked to") {
    const DrawnCourse d;
    cairo_surface_t* image = cairo_image_surface_create(CAIRO_FORMAT_RGB24, 500, 300);
    cairo_t* c = cairo_create(image);
    const auto slope = [&](double light) {
        cairo_pattern_t* pattern = cairo_pattern_create_linear(0.0, 0.0, 500.0, 0.0);
        cairo_pattern_add_color_stop_rgb(pattern, 0.0, light, light, light);
        cairo_pattern_add_color_stop_rgb(pattern, 1.0, 0.35 * light, 0.35 * light, 0.35 * light);
        cairo_set_source(c, pattern);
        cairo_pattern_destroy(pattern);
    };
    slope(0.92);
    cairo_paint(c);
    slope(0.1);
    cairo_rectangle(c, 40.0, 141.0, 420.0, 18.0);
    cairo_fill(c);
    REQUIRE(cairo_surface_write_to_png(image, d.folder.file("d.png").c_str()) == CAIRO_STATUS_SUCCESS);
    cairo_destroy(c);
    cairo_surface_destroy(image);
    const Course uneven = d.load("d.png", "mm_per_px = 1\n");
    REQUIRE(uneven.warnings.size() == 1);
    CHECK(uneven.warnings[0].message.find("the light is uneven: the darkest floor has ") == 0);
    const Course left = d.load("d.png", "mm_per_px = 1\neven_light = false\n");
    const RouteGraph as_it_is = find_route_graph(left); // from where the shade is as dark nobody can tell them apart
    REQUIRE(as_it_is.nodes.size() == 2);
    CHECK(length(as_it_is.nodes[0].at - Vec2{40.0, 150.0}) < 1.0);
    CHECK(as_it_is.stretches[0].length_mm > 419.0);
    const Course evened = d.load("d.png", "mm_per_px = 1\neven_light = true\n");
    CHECK(evened.warnings.empty());
    REQUIRE(evened.tapes.size() == 1);
    CHECK(length_of(evened.tapes[0]) == doctest::Approx(420.0).epsilon(0.01));
    CHECK(d.fault("d.svg", "even_light = true\n").find("d.svg") != std::string::npos);
    write_file(d.folder.file("e.svg"), svg_head + "width='90mm' height='90mm'/>");
    CHECK(d.fault("e.svg", "even_light = true\n").find("it is for photographs") != std::string::npos);
}

TEST_CASE("the glass wing as drawing and as picture: the same graph of many kinds of junction, gaps, drain, plates") {
    const Course drawn = load_course("data/fern-house/glass-wing.course.toml");
    const RouteGraph graph = find_route_graph(drawn);
    const auto count = [&](NodeKind kind) {
        return std::count_if(graph.nodes.begin(), graph.nodes.end(), [&](const Node& n) { return n.kind == kind; });
    };
    CHECK(count(NodeKind::fork) == 10);
    CHECK(count(NodeKind::crossing) == 1);
    CHECK(count(NodeKind::star) == 1);
    CHECK(count(NodeKind::end) == 5);
    CHECK(drawn.markers.size() == 4); // three of the drawing, one of the file
    std::vector<long> bare;
    for (const Stretch& stretch : graph.stretches) {
        for (const Bridge& bridge : stretch.bridges) {
            if (bridge.marker.empty()) {
                bare.push_back(std::lround(bridge.length_mm));
            }
        }
    }
    std::sort(bare.begin(), bare.end());
    CHECK(bare == std::vector<long>{34, 38, 40, 44}); // the first is the drain
    const RouteGraph scanned = find_route_graph(load_course("data/fern-house/glass-wing-scan.course.toml"));
    REQUIRE(scanned.nodes.size() == graph.nodes.size());
    for (std::size_t i = 0; i < graph.nodes.size(); ++i) {
        CHECK(scanned.nodes[i].name == graph.nodes[i].name);
        CHECK(length(scanned.nodes[i].at - graph.nodes[i].at) < 0.5);
    }
}
