/// Mixed courses as people bring them: on pages, as PDF, as JPEG, photographed at a slant.

#include <cstdlib>
#include <functional>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/brought.hpp"
#include "support/fixtures.hpp"
#include "support/map_rates.hpp"
#include "support/rounds.hpp"
#include "support/whole_course.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

struct Way {
    const char* name;
    std::function<fixtures::Brought(const fixtures::MixedCourse&, std::uint32_t)> bring;
    double pixels = 0.0; ///< how many of them a node may be off, beyond 5 mm
};

Course read_brought(const fixtures::Folder& folder, const fixtures::Brought& brought) {
    write_file(folder.file(brought.name), brought.bytes);
    DrawingRules rules;
    rules.apart = false; // hundreds of them
    return parse_course_file(brought.sheet, folder.file("m.course.toml"), as_drawn, rules).course;
}

fixtures::MapRates rates_of(const Way& way, std::uint32_t courses) {
    const fixtures::Folder folder;
    const bool tell = std::getenv("VTURN_TELL") != nullptr;
    const char* only = std::getenv("VTURN_COURSE"); // one of them, by its number
    fixtures::MapRates rates;
    for (std::uint32_t i = 1; i <= courses; ++i) {
        if (only != nullptr && std::to_string(i) != only) {
            continue;
        }
        const fixtures::MixedCourse mixed =
            i % 3 == 0 ? fixtures::whole_course(810'000 + i) : fixtures::mixed_course(810'000 + i);
        const fixtures::Brought brought = way.bring(mixed, i);
        if (const char* keep = std::getenv("VTURN_KEEP")) { // a folder, to look at what was brought
            write_file(std::string(keep) + "/" + brought.name, brought.bytes);
            write_file(std::string(keep) + "/m.course.toml", brought.sheet);
        }
        const Course course = read_brought(folder, brought);
        std::vector<std::string> told;
        rates.add(fixtures::compare(fixtures::moved(mixed, brought.offset), course, find_route_graph(course), &told,
                                    std::max(5.0, way.pixels * brought.mm_a_pixel)));
        if (tell && !told.empty()) {
            std::string words = fmt::format("{}: course {}, tape {} mm, {}", way.name, i, mixed.width_mm, mixed.kinds);
            for (const std::string& line : told) {
                words += "\n    " + line;
            }
            MESSAGE(words);
        }
    }
    return rates;
}

double real(std::uint32_t seed, double low, double high) {
    return low + (high - low) * (seed * 2654435761U % 1000U) / 1000.0;
}

/// A drawing program that opens a drawing and saves it: by its command line, in a folder where `d.svg` lies, and
/// `d.pdf`, which rsvg-convert made of it.
struct Program {
    const char* name;
    const char* there; ///< a command that fails where it is not installed: then it is left out
    const char* command;
    const char* file;  ///< that it leaves
    const char* lines; ///< of the course file; `{w}` and `{h}` stand for the size of the board
};

constexpr Program programs[] = {
    {"rsvg-convert, SVG", "which rsvg-convert", "rsvg-convert -f svg -o o.svg d.svg", "o.svg",
     "size_mm = [{w}, {h}]\n"},
    {"LibreOffice, SVG", "which soffice", "soffice --headless --convert-to svg --outdir out d.svg", "out/d.svg", ""},
    {"LibreOffice, PDF", "which soffice", "soffice --headless --convert-to pdf --outdir out d.svg", "out/d.pdf", ""},
    {"LibreOffice, PNG", "which soffice", "soffice --headless --convert-to png --outdir out d.svg", "out/d.png",
     "size_mm = [{w}, {h}]\n"},
    {"Ghostscript, PDF", "which gs", "gs -q -dNOPAUSE -dBATCH -sDEVICE=pdfwrite -sOutputFile=o.pdf d.pdf", "o.pdf", ""},
    {"Ghostscript, PNG", "which gs",
     "gs -q -dNOPAUSE -dBATCH -dGraphicsAlphaBits=4 -dTextAlphaBits=4 -sDEVICE=png16m -r25.4 -sOutputFile=o.png d.pdf",
     "o.png", "mm_per_px = 1\n"},
    {"Poppler, SVG", "which pdftocairo", "pdftocairo -svg d.pdf o.svg", "o.svg", ""},
    {"MuPDF, SVG", "which mutool", "mutool convert -F svg -o o.svg d.pdf && mv o1.svg o.svg", "o.svg", ""},
    {"CairoSVG, PNG", "/usr/bin/python3 -c 'import cairosvg'",
     "/usr/bin/python3 -m cairosvg d.svg -f png -d 25.4 -o o.png", "o.png", "size_mm = [{w}, {h}]\n"},
    {"ImageMagick, 16 colours", "which convert",
     "rsvg-convert -d 25.4 -p 25.4 -o p.png d.svg && convert p.png -colors 16 o.png", "o.png",
     "size_mm = [{w}, {h}]\n"},
    {"ImageMagick, blurred JPEG", "which convert",
     "rsvg-convert -d 25.4 -p 25.4 -o p.png d.svg && convert p.png -blur 0x1.2 -quality 40 o.jpg", "o.jpg",
     "size_mm = [{w}, {h}]\neven_light = false\n"},
};

fixtures::Brought through(const Program& program, const fixtures::MixedCourse& mixed) {
    const fixtures::Folder work;
    write_file(work.file("d.svg"), mixed.svg);
    const fixtures::Called called = fixtures::program(
        fmt::format("( cd {} && rsvg-convert -f pdf -o d.pdf d.svg && {} )", work.path(), program.command));
    REQUIRE_MESSAGE(called.status == 0, program.name << ": " << called.err);
    fixtures::Brought brought;
    const std::string file = program.file;
    brought.name = "d" + file.substr(file.rfind('.'));
    brought.bytes = read_file(work.file(file));
    std::string lines = program.lines;
    for (const auto& [word, mm] : {std::pair{"{w}", mixed.board_mm.x}, std::pair{"{h}", mixed.board_mm.y}}) {
        if (const std::size_t at = lines.find(word); at != std::string::npos) {
            lines.replace(at, 3, fmt::format("{}", mm));
        }
    }
    brought.sheet = fixtures::sheet_for(mixed, brought.name, lines);
    return brought;
}

} // namespace

TEST_CASE("brought courses: on pages, as PDF, as JPEG, photographed at a slant the same is found" *
          doctest::skip(fixtures::sanitized())) { // slant_test.cpp and drawing_hints_test.cpp go the same ways
    const auto courses = static_cast<std::uint32_t>(fixtures::rounds(90, 1, 0));
    const std::vector<Way> ways = {
        {"on a page", [](const auto& mixed, std::uint32_t i) { return fixtures::on_page(mixed, i, false); }},
        {"on a page, told", [](const auto& mixed, std::uint32_t i) { return fixtures::on_page(mixed, i, true); }},
        {"PDF", [](const auto& mixed, std::uint32_t) { return fixtures::as_pdf(mixed); }},
        {"JPEG, 1 mm", [](const auto& mixed, std::uint32_t) { return fixtures::as_jpeg(mixed, 1.0, 60); }},
        {"JPEG, 2 mm", [](const auto& mixed, std::uint32_t) { return fixtures::as_jpeg(mixed, 2.0, 60); }},
        {"uneven light", [](const auto& mixed, std::uint32_t i) { return fixtures::in_uneven_light(mixed, i); }},
        {"slant",
         [](const auto& mixed, std::uint32_t i) {
             return fixtures::photographed(mixed, {real(i, 0.0, 35.0), real(i + 7, -20.0, 20.0), 0.0});
         },
         2.0},
        {"slant and bow",
         [](const auto& mixed, std::uint32_t i) {
             return fixtures::photographed(mixed,
                                           {real(i, 0.0, 35.0), real(i + 7, -20.0, 20.0), real(i + 3, -0.12, 0.08)});
         },
         2.0},
    };
    const char* one = std::getenv("VTURN_WAY");
    for (const Way& way : ways) {
        if (one != nullptr && std::string(one) != way.name) {
            continue;
        }
        const fixtures::MapRates rates = rates_of(way, courses);
        MESSAGE(std::string(way.name) << ": " << rates.text());
        CHECK(rates.nodes.right >= 0.95 * rates.nodes.all - 2.0);
        CHECK(rates.found.right >= 0.93 * rates.found.all - 2.0);
        CHECK(rates.lengths.right >= 0.92 * rates.lengths.all - 2.0);
        CHECK(rates.gaps.right >= 0.94 * rates.gaps.all - 2.0);
        CHECK(rates.plates.right >= 0.92 * rates.plates.all - 1.0);
        CHECK(rates.bends.right >= 0.95 * rates.bends.all - 2.0);
    }
}

TEST_CASE("plates with blurred rims: within the tape, askew on it, against the line beside it, the lines stay whole") {
    const fixtures::Folder folder;
    for (const std::uint32_t seed : {1U, 22U, 26U}) {
        const fixtures::MixedCourse mixed = fixtures::mixed_course(810'000 + seed);
        const Course course = read_brought(folder, fixtures::as_jpeg(mixed, 2.0, 60));
        std::vector<std::string> told;
        const fixtures::MapRates rates = fixtures::compare(mixed, course, find_route_graph(course), &told, 5.0);
        CAPTURE(seed);
        const std::string not_right = fmt::format("{}", fmt::join(told, "\n"));
        CAPTURE(not_right);
        CHECK(rates.nodes.right == rates.nodes.all);
        CHECK(rates.found.right == rates.found.all);
        CHECK(rates.lengths.right == rates.lengths.all);
    }
}

namespace {

/// One line on a board of 900 x 600 mm, and what lies on it, as a picture of so many millimetres a pixel.
RouteGraph in_coarse_pixels(const std::string& drawn, double width_mm, double mm_a_pixel) {
    fixtures::MixedCourse mixed;
    mixed.board_mm = {900.0, 600.0};
    mixed.width_mm = width_mm;
    mixed.svg = fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"900mm\" height=\"600mm\" "
                            "viewBox=\"0 0 900 600\"><rect width=\"900\" height=\"600\" fill=\"#EFECE4\"/>{}</svg>\n",
                            drawn);
    mixed.sheet = "name = \"coarse\"\ndrawing = \"d.svg\"\n[palette]\nmagenta = \"#C22F7C\"\n";
    const fixtures::Folder folder;
    return find_route_graph(read_brought(folder, fixtures::as_jpeg(mixed, mm_a_pixel, 60)));
}

} // namespace

TEST_CASE("a small plate in coarse pixels, with hardly any tape beside it, bends no line") {
    struct Laid {
        double radius;
        double width;
        double at;
    };
    for (const Laid& laid : {Laid{8.1, 20.6, 433.8}, {8.4, 21.2, 432.8}, {9.3, 22.9, 431.4}, {12.8, 29.1, 431.1}}) {
        CAPTURE(laid.radius);
        const RouteGraph graph =
            in_coarse_pixels(fmt::format("<path d=\"M 80,301 H 820\" stroke=\"#1A1A1C\" stroke-width=\"{}\"/><circle "
                                         "cx=\"{}\" cy=\"300.6\" r=\"{}\" fill=\"#C22F7C\"/>",
                                         laid.width, laid.at, laid.radius),
                             laid.width, 2.0);
        REQUIRE(graph.stretches.size() == 1);
        CHECK(graph.stretches[0].tightest_mm > 600.0);
    }
}

TEST_CASE("a thin frame that coarse pixels tear bends no line that it crosses") {
    for (const double turn : {4.0, 18.0, 26.0, 41.0}) {
        CAPTURE(turn);
        const RouteGraph graph = in_coarse_pixels(
            fmt::format("<path d=\"M 120,160 L 730,457\" stroke=\"#1A1A1C\" stroke-width=\"33.6\"/><rect x=\"658\" "
                        "y=\"382\" width=\"150\" height=\"150\" fill=\"none\" stroke=\"#1A1A1C\" "
                        "stroke-width=\"1.7\" transform=\"rotate({} 730 457)\"/>",
                        turn),
            33.6, 2.0);
        REQUIRE(graph.stretches.size() == 1);
        CHECK(graph.stretches[0].tightest_mm > 600.0);
    }
}

TEST_CASE("courses through drawing programs: what they save is read as what was drawn" *
          doctest::skip(fixtures::sanitized() || fixtures::rounds(1, 0, 0) == 0)) {
    const char* one = std::getenv("VTURN_WAY");
    for (const Program& program : programs) {
        if ((one != nullptr && std::string(one) != program.name) || fixtures::program(program.there).status != 0) {
            continue;
        }
        const Way way{program.name, [&](const auto& mixed, std::uint32_t) { return through(program, mixed); }};
        const fixtures::MapRates rates = rates_of(way, 60);
        MESSAGE(std::string(way.name) << ": " << rates.text());
        CHECK(rates.nodes.right >= 0.99 * rates.nodes.all);
        CHECK(rates.found.right >= 0.99 * rates.found.all);
        CHECK(rates.lengths.right >= 0.98 * rates.lengths.all);
        CHECK(rates.plates.right >= 0.96 * rates.plates.all);
    }
}
