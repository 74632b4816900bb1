/// What the course file says of a drawing: which part is the board, what is line and what is not, which page.

#include <cmath>
#include <string>
#include <utility>

#include <doctest/doctest.h>

#include "support/brought.hpp"
#include "support/drawn_course.hpp"
#include "support/rounds.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

using namespace vast_turn;

namespace {

const std::string sheet = "width='900mm' height='620mm' viewBox='0 0 900 620'";
/// A board of 640 x 330 mm at 130,95 on white paper, a line on it, and below it a legend with a piece of line and a
/// plate.
const std::string hinted_page =
    "<rect width='900' height='620' fill='#FFFFFF'/>"
    "<rect x='130' y='95' width='640' height='330' fill='#EDEAE2' stroke='#222' stroke-width='1'/>"
    "<path d='M 190,260 H 710' stroke='#1B1B1B' stroke-width='17'/>"
    "<path d='M 130,500 H 330' stroke='#1B1B1B' stroke-width='17'/>"
    "<rect x='400' y='480' width='40' height='40' fill='#E69A17'/>"
    "<rect x='430' y='243' width='40' height='34' fill='#E69A17'/>";
const std::string amber = "[palette]\namber = '#E69A17'\n";

/// A PDF of one page whose sheet, inherited from the list of pages, is 720 x 360 points; a viewer shows 520 x 260 of
/// it, and it is cut at 620 x 320. A line of 17 mm runs all through the sheet.
std::string boxed_pdf() {
    const std::string drawn = "0.1 g 0 160 720 48 re f";
    const std::string objects[] = {
        "<</Type/Catalog/Pages 2 0 R>>", "<</Type/Pages/Kids[3 0 R]/Count 1/MediaBox[0 0 720 360]>>",
        "<</Type/Page/Parent 2 0 R/CropBox[100 50 620 310]/TrimBox[50 20 670 340]/Contents 4 0 R/Resources<<>>>>",
        "<</Length " + std::to_string(drawn.size()) + ">>\nstream\n" + drawn + "\nendstream"};
    std::string out = "%PDF-1.4\n";
    std::string table = "xref\n0 5\n0000000000 65535 f \n";
    int number = 0;
    for (const std::string& object : objects) {
        const std::string at = std::to_string(out.size());
        table += std::string(10 - at.size(), '0') + at + " 00000 n \n";
        out += std::to_string(++number) + " 0 obj\n" + object + "\nendobj\n";
    }
    const std::string begin = std::to_string(out.size());
    return out + table + "trailer<</Size 5/Root 1 0 R>>\nstartxref\n" + begin + "\n%%EOF\n";
}

} // namespace

TEST_CASE("a board is found on a page, and what lies beside it is neither line nor plate") {
    const fixtures::DrawnCourse d;
    const Course course = d.svg(sheet, hinted_page, amber);
    REQUIRE(course.board);
    CHECK(course.board->mm.from.x == doctest::Approx(130.0).epsilon(0.02));
    CHECK(course.board->mm.to.y == doctest::Approx(425.0).epsilon(0.01));
    CHECK(course.width_mm == 900.0); // its frame is the page's
    CHECK(find_route_graph(course).stretches.size() == 1);
    CHECK(course.markers.size() == 1);
    const Course all = d.svg(sheet, hinted_page, "board = 'page'\n" + amber);
    CHECK_FALSE(all.board);
    CHECK(find_route_graph(all).stretches.size() == 2);
    CHECK(all.markers.size() == 2);
}

TEST_CASE("a board that is given is the course, with its corner as 0,0; size_mm is its size") {
    const fixtures::DrawnCourse d;
    const std::string board = "board = { from = [130, 95], to = [770, 425] }\n";
    const Course course = d.svg(sheet, hinted_page, board + amber);
    CHECK(course.width_mm == 640.0);
    CHECK(course.height_mm == 330.0);
    RouteGraph graph = find_route_graph(course);
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.nodes[0].at.x == doctest::Approx(60.0).epsilon(0.02));
    CHECK(graph.nodes[0].at.y == doctest::Approx(165.0).epsilon(0.005));
    const Course large = d.svg(sheet, hinted_page, "size_mm = [1280, 660]\n" + board + amber);
    graph = find_route_graph(large);
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches[0].length_mm == doctest::Approx(1040.0).epsilon(0.005));
    CHECK(fixtures::message_of([&] {
              d.svg(sheet, hinted_page, "board = { from = [130, 95], to = [970, 425] }\n");
          }).find("reaches beyond the drawing") != std::string::npos);
    CHECK(fixtures::message_of([&] {
              d.svg(sheet, hinted_page, "board = { from = [130, 95], to = [130, 425] }\n");
          }).find("this board has no size") != std::string::npos);
    CHECK(fixtures::message_of([&] { d.svg(sheet, hinted_page, "board = 'pag'\n"); }).find("did you mean `page`") !=
          std::string::npos);
}

TEST_CASE("a dark board on white paper has the floor that lies under its light line") {
    const fixtures::DrawnCourse d;
    const Course course = d.svg(sheet, "<rect width='900' height='620' fill='#FFFFFF'/>"
                                       "<rect x='130' y='95' width='640' height='330' rx='14' fill='#26241F'/>"
                                       "<path d='M 190,260 H 710' stroke='#F4F1EA' stroke-width='17'/>"
                                       "<path d='M 130,500 H 330' stroke='#26241F' stroke-width='17'/>");
    REQUIRE(course.board);
    CHECK(course.floor == Rgb{0x26, 0x24, 0x1F});
    CHECK(course.line == Rgb{0xF4, 0xF1, 0xEA});
    const RouteGraph graph = find_route_graph(course);
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches[0].length_mm == doctest::Approx(520.0).epsilon(0.005));
}

TEST_CASE("a course that runs in a rectangle is no outline of a board") {
    const fixtures::DrawnCourse d;
    const Course course = d.svg(sheet, "<rect width='900' height='620' fill='#EDEAE2'/>"
                                       "<rect x='130' y='95' width='640' height='330' fill='none' stroke='#1B1B1B' "
                                       "stroke-width='15'/>");
    CHECK_FALSE(course.board);
    CHECK(find_route_graph(course).stretches.size() == 1);
}

TEST_CASE("regions and colours are left out, or taken in after all" * doctest::skip(fixtures::sanitized())) {
    const fixtures::DrawnCourse d;
    const std::string floor = "<rect width='900' height='620' fill='#EDEAE2'/>";
    const std::string body = floor + "<path d='M 90,120 H 810 M 90,520 H 420' stroke='#1B1B1B' stroke-width='17'/>"
                                     "<path d='M 90,320 H 810' stroke='#3E7AE0' stroke-width='17'/>"
                                     "<path d='M 520,520 H 810' stroke='#1B1B1B' stroke-width='52'/>";
    const auto lines = [&](const std::string& keys) {
        return find_route_graph(d.svg(sheet, body, "line = { colour = '#1B1B1B', width_mm = 17 }\n" + keys))
            .stretches.size();
    };
    CHECK(lines("") == 2);
    CHECK(lines("[[leave_out]]\nfrom_mm = [60, 480]\nto_mm = [450, 560]\n") == 1);
    CHECK(lines("[[take_in]]\nfrom_mm = [600, 500]\nto_mm = [640, 540]\n") == 3);
    CHECK(lines("[[take_in]]\ncolour = '#3E7AE0'\n") == 3);
    CHECK(lines("[[leave_out]]\ncolour = '#1B1B1B'\n") == 2); // the line's own colour is always line
    const Course two = d.svg(sheet, body, "line = { colour = '#1B1B1B', width_mm = [17, 52] }\n");
    CHECK(find_route_graph(two).stretches.size() == 3);
    const Course grey = d.svg(sheet,
                              floor + "<path d='M 90,120 H 810' stroke='#1B1B1B' stroke-width='17'/>"
                                      "<path d='M 90,320 H 810' stroke='#5A5854' stroke-width='17'/>",
                              "line = { colour = '#1B1B1B', width_mm = 17 }\n[[leave_out]]\ncolour = '#5A5854'\n");
    CHECK(find_route_graph(grey).stretches.size() == 1);
    for (const auto& [bad, why] : {std::pair{"[[leave_out]]\nfrom_mm = [9, 9]\nto_mm = [9, 40]\n", "is empty"},
                                   {"[line]\nwidth_mm = []\n", "not a list of numbers"},
                                   {"[line]\nwidth_mm = [17, 'x']\n", "not a list of numbers"},
                                   {"page = 2\n", "only a PDF has pages"}}) {
        const std::string keys = bad;
        CAPTURE(keys);
        CHECK(fixtures::message_of([&] { d.svg(sheet, body, keys); }).find(why) != std::string::npos);
    }
}

TEST_CASE("the joints of a tiled floor are longer than its line, but paler") {
    const fixtures::DrawnCourse d;
    std::string joints;
    for (const int at : {60, 240, 420, 600, 780}) {
        joints += "M " + std::to_string(at) + ",0 V 620 M 0," + std::to_string(at) + " H 900 ";
    }
    const Course course = d.svg(sheet, "<rect width='900' height='620' fill='#EDEAE3'/><path d='" + joints +
                                           "' fill='none' stroke='#A8A5A0' stroke-width='6'/>"
                                           "<path d='M 90,140 H 810 V 500 H 300' fill='none' stroke='#1C1C1E' "
                                           "stroke-width='19'/>");
    CHECK(course.line == Rgb{0x1C, 0x1C, 0x1E});
    CHECK(find_route_graph(course).stretches.size() == 1);
}

TEST_CASE("a bench as large as a table against the tape is taken off, and is no strip" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::DrawnCourse d;
    const Course course = d.svg("width='2400mm' height='1600mm' viewBox='0 0 2400 1600'",
                                "<rect width='2400' height='1600' fill='#E9E6DD'/>"
                                "<path d='M 150,1300 H 2200' stroke='#1D1D1F' stroke-width='19'/>"
                                "<rect x='830' y='771' width='710' height='520' fill='#1D1D1F'/>");
    const RouteGraph graph = find_route_graph(course);
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches.front().length_mm == doctest::Approx(2050).epsilon(0.005));
    REQUIRE(graph.not_lines.size() == 1);
    CHECK(graph.not_lines.front().kind == NotLineKind::dark_area);
}

TEST_CASE("of two shades of a line that which most of it has is its colour") {
    const fixtures::DrawnCourse d;
    const Course course = d.svg(sheet, "<rect width='900' height='620' fill='#E4E4E4'/>"
                                       "<path d='M 90,120 H 790' stroke='#5A5A5A' stroke-width='19'/>"
                                       "<path d='M 90,420 H 660' stroke='#202020' stroke-width='19'/>");
    CHECK(course.line == Rgb{0x5A, 0x5A, 0x5A});
    CHECK(find_route_graph(course).stretches.size() == 2);
}

TEST_CASE("floor, line and plates are found without hints: strokes count, not what is largest") {
    const fixtures::DrawnCourse d;
    const Course course = d.svg(sheet, "<rect width='900' height='620' fill='#E4E7DE'/>"
                                       "<rect x='520' y='330' width='300' height='240' fill='#6B4A2E'/>"
                                       "<path d='M 90,120 H 810 V 250' fill='none' stroke='#20242A' stroke-width='17'/>"
                                       "<rect x='300' y='98' width='44' height='44' fill='#148C82'/>"
                                       "<rect x='500' y='98' width='44' height='44' fill='#BE287D'/>");
    CHECK(course.floor == Rgb{0xE4, 0xE7, 0xDE});
    CHECK(course.line == Rgb{0x20, 0x24, 0x2A});
    CHECK(course.taken.palette);
    REQUIRE(course.palette.size() == 2);
    CHECK(course.palette.at("teal") == Rgb{0x14, 0x8C, 0x82});
    CHECK(course.palette.count("magenta") == 1);
    CHECK(course.markers.size() == 2);
}

TEST_CASE("dashes tell their width although none of them is long") {
    const fixtures::DrawnCourse d;
    const Course course = d.svg(sheet, "<rect width='900' height='620' fill='#EDEAE2'/>"
                                       "<path d='M 60,120 H 840' stroke='#1B1B1B' stroke-width='24' "
                                       "stroke-dasharray='58 30'/>"
                                       "<path d='M 400,300 V 420 M 430,300 V 420' stroke='#1B1B1B' "
                                       "stroke-width='9'/>");
    const RouteGraph graph = find_route_graph(course);
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches[0].width_mm == doctest::Approx(24.0).epsilon(0.05));
    CHECK(graph.stretches[0].bridges.size() == 8);
}

TEST_CASE("what is no line is told with how near it comes to one; frames are not") {
    const fixtures::DrawnCourse d;
    const Course course = d.svg(sheet,
                                "<rect width='900' height='620' fill='#EDEAE2'/>"
                                "<path d='M 90,120 H 810' stroke='#1B1B1B' stroke-width='17'/>"
                                "<rect x='300' y='160' width='150' height='90' fill='#1B1B1B'/>"
                                "<rect x='60' y='60' width='780' height='400' fill='none' stroke='#1B1B1B' "
                                "stroke-width='3'/>",
                                "line = { width_mm = 17 }\nboard = 'page'\n");
    const RouteGraph graph = find_route_graph(course);
    REQUIRE(graph.not_lines.size() == 2);
    for (const NotLine& it : graph.not_lines) {
        if (it.kind == NotLineKind::dark_area) {
            CHECK(it.from_line_mm == doctest::Approx(40.0).epsilon(0.03));
        } else {
            CHECK(is_hollow(it));
            CHECK(std::isinf(it.from_line_mm));
        }
    }
}

TEST_CASE("the page of a PDF, its size and a part of it; a damaged one and a missing page are told") {
    const fixtures::DrawnCourse d;
    const fixtures::MixedCourse mixed = fixtures::mixed_course(810'001);
    const fixtures::Brought brought = fixtures::as_pdf(mixed);
    write_file(d.folder.file("d.pdf"), brought.bytes);
    const Course course = d.load("d.pdf", "page = 2\n");
    CHECK(course.drawn_apart);
    CHECK(course.width_mm == doctest::Approx(mixed.board_mm.x).epsilon(1e-4));
    REQUIRE(course.drawing_notes.size() == 1);
    CHECK(course.drawing_notes[0] == "page 2 of 2");
    const Course part = d.load("d.pdf", "page = 2\nboard = { from = [100, 100], to = [1000, 700] }\n");
    CHECK(part.width_mm == doctest::Approx(900.0 * 25.4 / 72.0).epsilon(1e-4));
    CHECK(d.fault("d.pdf", "page = 3\n").find("there is no page 3: this PDF has 2") != std::string::npos);
    CHECK(d.fault("d.pdf", "even_light = true\n").find("the light on a PDF cannot be evened out") != std::string::npos);
    write_file(d.folder.file("stub.pdf"), brought.bytes.substr(0, 90));
    CHECK(d.fault("stub.pdf").find("this PDF cannot be read") != std::string::npos);
}

TEST_CASE("which box of a PDF's page is drawn is chosen: what a viewer shows, the sheet, or where it is cut") {
    const fixtures::DrawnCourse d;
    write_file(d.folder.file("d.pdf"), boxed_pdf());
    const auto points = [&](const std::string& keys) {
        const Course course = d.load("d.pdf", "cell_mm = 1\n" + keys);
        const double line = find_route_graph(course).stretches.at(0).length_mm;
        CHECK(line == doctest::Approx(course.width_mm).epsilon(0.02));
        return std::pair(std::lround(course.width_mm * 72.0 / 25.4), std::lround(course.height_mm * 72.0 / 25.4));
    };
    CHECK(points("") == std::pair(520L, 260L));
    CHECK(points("page_box = 'crop'\n") == std::pair(520L, 260L));
    CHECK(points("page_box = 'media'\n") == std::pair(720L, 360L));
    CHECK(points("page = 1\npage_box = 'trim'\n") == std::pair(620L, 320L));
    CHECK(d.load("d.pdf", "page_box = 'trim'\n").warnings.empty());
    const Course bled = d.load("d.pdf", "page_box = 'bleed'\n");
    CHECK(bled.width_mm == doctest::Approx(520.0 * 25.4 / 72.0));
    REQUIRE(bled.warnings.size() == 1);
    CHECK(bled.warnings[0].message.find("page 1 has no bleed box") != std::string::npos);
    CHECK(d.fault("d.pdf", "page_box = 'sheet'\n").find("media") != std::string::npos);
    CHECK(d.fault("d.pdf", "page = 2\npage_box = 'media'\n").find("there is no page 2") != std::string::npos);
    CHECK(fixtures::message_of([&] {
              d.svg(sheet, hinted_page, "page_box = 'media'\n");
          }).find("only a PDF has pages") != std::string::npos);
    // Where its table of objects lies is wrong: both libraries find the objects all the same.
    const std::string whole = boxed_pdf();
    write_file(d.folder.file("d.pdf"), whole.substr(0, whole.find("startxref")) + "startxref\n7\n%%EOF\n");
    CHECK(points("page_box = 'media'\n") == std::pair(720L, 360L));
}

TEST_CASE("what is not drawn is told once a cause, with how often it is met") {
    const fixtures::Folder folder;
    std::string svg = "<svg xmlns='http://www.w3.org/2000/svg' width='300mm' height='200mm' viewBox='0 0 300 200'>"
                      "<rect width='300' height='200' fill='#EDEAE2'/><path d='M 20,100 H 280' stroke='#1B1B1B' "
                      "stroke-width='19'/>\n";
    for (int i = 0; i < 25; ++i) {
        svg += "<text x='20' y='40'>fern</text><glyph/>\n";
    }
    write_file(folder.file("d.svg"), svg + "<script/></svg>");
    write_file(folder.file("c.course.toml"), "name = \"c\"\ndrawing = \"d.svg\"\n");
    const Course course = load_course(folder.file("c.course.toml"));
    REQUIRE(course.warnings.size() == 3);
    CHECK(course.warnings[0].message.starts_with("text is drawn with the fonts of this machine"));
    CHECK(course.warnings[0].message.ends_with(" (25 times; here the first)"));
    CHECK(course.warnings[0].place.line == 2);
    CHECK(course.warnings[1].message == "`glyph` is unknown and not drawn (25 times; here the first)");
    CHECK(course.warnings[2].message == "`script` is not drawn");
}
