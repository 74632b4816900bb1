/// The glass wing once more as a photograph at a slant and as a page of a PDF with titles, benches and a legend. With
/// VTURN_COLLECT=1 both are made anew.

#include <algorithm>
#include <cstdlib>

#include <cairo-pdf.h>
#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/brought.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

const std::string wing_folder = "data/fern-house/";

/// The drawing as a course of its own kind, for those that bring it.
fixtures::MixedCourse glass_wing() {
    fixtures::MixedCourse mixed;
    const Course course = load_course(wing_folder + "glass-wing.course.toml");
    mixed.board_mm = {course.width_mm, course.height_mm};
    mixed.svg = read_file(wing_folder + "glass-wing.svg");
    mixed.sheet = "drawing = \"d.svg\"\n";
    return mixed;
}

void collect() {
    const fixtures::MixedCourse wing = glass_wing();
    fixtures::Camera camera{23.0, -5.0, -0.045, 2000, 1500};
    camera.gloom = 0.7;
    const fixtures::Brought photo = fixtures::photographed(wing, camera);
    write_file(wing_folder + "glass-wing-photo.jpg", photo.bytes);
    MESSAGE(photo.sheet);
    write_file(wing_folder + "glass-wing-page.pdf", fixtures::sheet_of_paper(wing, "The glass wing, south side"));
}

/// Whether two graphs have the same junctions and ends within some millimetres.
double farthest_node(const RouteGraph& of, const RouteGraph& from, Vec2 moved) {
    double worst = 0.0;
    for (const Node& node : of.nodes) {
        double nearest = 1e9;
        for (const Node& other : from.nodes) {
            if (other.exits.size() == node.exits.size()) {
                nearest = std::min(nearest, length(other.at - node.at - moved));
            }
        }
        worst = std::max(worst, node.kind == NodeKind::seam ? 0.0 : nearest);
    }
    return worst;
}

} // namespace

TEST_CASE("the glass wing as a slanted photograph and as a page: the same junctions and ends" *
          doctest::skip(fixtures::sanitized())) {
    if (std::getenv("VTURN_COLLECT") != nullptr) {
        collect();
    }
    const RouteGraph drawn = find_route_graph(load_course(wing_folder + "glass-wing.course.toml"));
    const Course photo = load_course(wing_folder + "glass-wing-photo.course.toml");
    const RouteGraph photographed = find_route_graph(photo);
    CHECK(photographed.nodes.size() == drawn.nodes.size());
    CHECK(farthest_node(drawn, photographed, {}) < 6.0);
    REQUIRE(photo.drawing_notes.size() == 2);
    CHECK(photo.drawing_notes[1].find("lens_bow = -0.04") != std::string::npos);
    const Course page = load_course(wing_folder + "glass-wing-page.course.toml");
    REQUIRE(page.board);
    const RouteGraph found = find_route_graph(page);
    CHECK(found.nodes.size() == drawn.nodes.size());
    CHECK(farthest_node(drawn, found, page.board->mm.from) < 2.0);
}

TEST_CASE("the fork of the glass wing whose arm turns at once stands where it is drawn" *
          doctest::skip(fixtures::sanitized())) { // the photograph takes nearly all the time that a drawing may
    for (const char* name : {"glass-wing", "glass-wing-photo"}) {
        CAPTURE(name);
        const RouteGraph graph = find_route_graph(load_course(wing_folder + name + ".course.toml"));
        double nearest = 1e9;
        for (const Node& node : graph.nodes) {
            nearest = node.exits.size() == 3 ? std::min(nearest, length(node.at - Vec2{560.0, 640.0})) : nearest;
        }
        CHECK(nearest < 1.0);
    }
}
