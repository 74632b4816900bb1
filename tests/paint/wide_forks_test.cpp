/// Forks of wide tape without a corner: the lines are apart only where the arcs are over.

#include <algorithm>
#include <cmath>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/drawn_course.hpp"
#include "support/rounds.hpp"
#include "vast_turn/base/geometry.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

using namespace vast_turn;
using fixtures::DrawnCourse;

namespace {

constexpr double fork_x = 390.0;
constexpr double fork_y = 380.0;

/// A line that comes from 150,380, bends to one side at 390,380 and leads straight on.
struct Branch {
    double radius_mm = 0.0;
    double turn = 0.0; ///< radians, positive to the right of who comes
    double on_mm = 213.0;

    double length_mm() const { return radius_mm * std::abs(turn) + on_mm; }
    std::string path() const {
        const double side = turn > 0.0 ? 1.0 : -1.0;
        const Vec2 end{fork_x + radius_mm * std::sin(std::abs(turn)),
                       fork_y + side * radius_mm * (1.0 - std::cos(turn))};
        const Vec2 far = end + on_mm * Vec2{std::cos(turn), std::sin(turn)};
        return fmt::format("M{},{} A{},{} 0 0 {} {},{} L{},{}", fork_x, fork_y, radius_mm, radius_mm,
                           turn > 0.0 ? 1 : 0, end.x, end.y, far.x, far.y);
    }
};

RouteGraph graph_of(const std::string& paths, double width) {
    const DrawnCourse d;
    return find_route_graph(d.svg("width=\"1130mm\" height=\"760mm\" viewBox=\"0 0 1130 760\"",
                                  fmt::format("<rect width=\"1130\" height=\"760\" fill=\"#F2EFE6\"/><path "
                                              "d=\"M150,380 H390 {}\" fill=\"none\" stroke=\"#161514\" "
                                              "stroke-width=\"{}\"/>",
                                              paths, width)));
}

const Node* fork_of(const RouteGraph& graph) {
    const auto found = std::find_if(graph.nodes.begin(), graph.nodes.end(),
                                    [](const Node& node) { return node.kind == NodeKind::fork; });
    return found == graph.nodes.end() ? nullptr : &*found;
}

const Stretch* line_as_long(const RouteGraph& graph, double length_mm) {
    const auto found = std::find_if(graph.stretches.begin(), graph.stretches.end(), [&](const Stretch& stretch) {
        return std::abs(stretch.length_mm - length_mm) < 0.01 * length_mm;
    });
    return found == graph.stretches.end() ? nullptr : &*found;
}

void has_fork_of(const RouteGraph& graph, const std::vector<Branch>& branches) {
    const Node* const fork = fork_of(graph);
    REQUIRE(fork != nullptr);
    CHECK(length(fork->at - Vec2{fork_x, fork_y}) < 5.0);
    REQUIRE(graph.stretches.size() == 3);
    for (const Branch& branch : branches) {
        const Stretch* const line = line_as_long(graph, branch.length_mm());
        REQUIRE(line != nullptr);
        CHECK(line->tightest_mm == doctest::Approx(branch.radius_mm).epsilon(0.1));
    }
}

} // namespace

TEST_CASE("a line that leaves wide tape on a small arc forks where the arc begins") {
    for (const double width : {22.0, 29.0, 36.0}) {
        for (const double radii : {3.1, 4.7}) {
            if (fixtures::sanitized() && (width < 30.0 || radii > 4.0)) {
                continue;
            }
            for (const double turn : {0.74, -0.93, 1.25}) {
                const Branch branch{radii * width, turn};
                CAPTURE(width);
                CAPTURE(branch.radius_mm);
                CAPTURE(turn);
                has_fork_of(graph_of("H1040 " + branch.path(), width), {branch});
            }
        }
    }
}

TEST_CASE("two lines that leave wide tape on small arcs to both its sides fork where the arcs begin") {
    for (const double width : {17.0, 26.0, 35.0}) {
        for (const double more : {1.0, 1.6}) {
            if (fixtures::sanitized() && (width < 30.0 || more < 1.3)) {
                continue;
            }
            for (const double turn : {0.78, 1.21}) {
                const Branch left{2.9 * width, -turn, 190.0};
                const Branch right{more * 2.9 * width, 1.1 * turn, 263.0};
                CAPTURE(width);
                CAPTURE(more);
                CAPTURE(turn);
                has_fork_of(graph_of(left.path() + right.path(), width), {left, right});
            }
        }
    }
}

TEST_CASE("two straight lines that part at a sharp angle fork where their middles meet, wide as they are" *
          doctest::skip(fixtures::sanitized())) {
    for (const double width : {18.0, 33.0}) {
        for (const double turn : {0.7, 1.0, -1.3}) {
            CAPTURE(width);
            CAPTURE(turn);
            const Branch branch{0.0, turn, 260.0};
            const RouteGraph graph = graph_of(
                fmt::format("H1040 M390,380 L{},{}", fork_x + 260.0 * std::cos(turn), fork_y + 260.0 * std::sin(turn)),
                width);
            const Node* const fork = fork_of(graph);
            REQUIRE(fork != nullptr);
            CHECK(length(fork->at - Vec2{fork_x, fork_y}) < 3.0);
            CHECK(line_as_long(graph, branch.length_mm()) != nullptr);
        }
    }
}
