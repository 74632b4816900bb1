/// Courses as other people draw them, through the file reader: junctions, lengths, gaps, plates, bends against truth.

#include <cstdlib>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "support/map_rates.hpp"
#include "support/mixed_course.hpp"
#include "support/rounds.hpp"
#include "support/whole_course.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

using Make = fixtures::MixedCourse (*)(std::uint32_t, const std::string&);

/// What is found of so many courses of one generator.
fixtures::MapRates rates_of(Make make, std::uint32_t first, std::uint32_t courses) {
    const char* only = std::getenv("VTURN_COURSE"); // one of them, by its number
    const char* kind = std::getenv("VTURN_KIND");   // of lines of one kind alone
    const bool tell = std::getenv("VTURN_TELL") != nullptr;
    const fixtures::Folder folder;
    fixtures::MapRates rates;
    for (std::uint32_t i = 1; i <= courses; ++i) {
        if (only != nullptr && std::to_string(i) != only) {
            continue;
        }
        const fixtures::MixedCourse mixed = make(first + i, kind == nullptr ? "" : kind);
        write_file(folder.file("d.svg"), mixed.svg);
        DrawingRules rules;
        rules.apart = false; // hundreds of them
        const Course course = parse_course_file(mixed.sheet, folder.file("m.course.toml"), as_drawn, rules).course;
        const RouteGraph graph = find_route_graph(course);
        std::vector<std::string> told;
        rates.add(fixtures::compare(mixed, course, graph, &told));
        if (tell && !told.empty()) {
            std::string words = fmt::format("course {}, tape {} mm, {}", i, mixed.width_mm, mixed.kinds);
            for (const std::string& line : told) {
                words += "\n    " + line;
            }
            MESSAGE(words);
        }
        if (const char* keep = std::getenv("VTURN_KEEP")) { // a folder, to look at what was drawn
            write_file(std::string(keep) + "/d.svg", mixed.svg);
            write_file(std::string(keep) + "/m.course.toml", mixed.sheet);
        }
    }
    return rates;
}

void at_least(double part, const fixtures::MapRates::Rate& rate) {
    CHECK((rate.all > 0 || fixtures::sanitized())); // there it is one course
    CHECK(rate.right >= part * rate.all - 2.0);     // a few courses have few of each
}

} // namespace

TEST_CASE("mixed courses: what is told of drawings with lettering, furniture, plates, gaps and bends is so") {
    const fixtures::MapRates rates =
        rates_of(fixtures::mixed_course, 730'000, static_cast<std::uint32_t>(fixtures::rounds(600, 12, 1)));
    MESSAGE(rates.text());
    at_least(0.99, rates.nodes);
    at_least(0.98, rates.found);
    at_least(0.99, rates.lengths);
    at_least(0.99, rates.gaps);
    at_least(0.99, rates.plates);
    at_least(0.97, rates.bends);
}

TEST_CASE("whole courses: rounds, lattices, trees, spirals and zigzags in five ways of drawing are told as they are") {
    const fixtures::MapRates rates =
        rates_of(fixtures::whole_course, 510'000, static_cast<std::uint32_t>(fixtures::rounds(600, 20, 1)));
    MESSAGE(rates.text());
    at_least(0.99, rates.nodes);
    at_least(0.98, rates.found);
    at_least(0.99, rates.lengths);
    at_least(0.99, rates.plates);
    at_least(0.9, rates.bends);
}
