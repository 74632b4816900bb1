#include "vast_turn/course/board/svg_path.hpp"

#include <doctest/doctest.h>
#include <fmt/format.h>

using namespace vast_turn;

namespace {

std::string points_of(const std::string& path) {
    std::string text;
    for (const SubPath& sub : parse_svg_path(path, 0.02).paths) {
        text += text.empty() ? "" : "| ";
        for (const Vec2 p : sub.points) {
            text += fmt::format("{:g},{:g} ", p.x, p.y);
        }
        text += sub.closed ? "Z " : "";
    }
    return text;
}

std::string fault_of(const std::string& path) {
    const PathResult result = parse_svg_path(path, 0.02);
    REQUIRE(result.fault.has_value());
    CHECK(result.paths.empty());
    return fmt::format("{}: {}", result.fault->at, result.fault->message);
}

double length_of(const SubPath& sub) {
    double sum = 0.0;
    for (std::size_t i = 0; i + 1 < sub.points.size(); ++i) {
        sum += length(sub.points[i + 1] - sub.points[i]);
    }
    return sum;
}

} // namespace

TEST_CASE("lines: absolute and relative, horizontal and vertical, repeated, closed, several strokes") {
    CHECK(points_of("M 10,20 L 30,20 30,40") == "10,20 30,20 30,40 ");
    CHECK(points_of("m10 20 20 0 0 20") == "10,20 30,20 30,40 ");
    CHECK(points_of("M0 0H5V7h-2v-3") == "0,0 5,0 5,7 3,7 3,4 ");
    CHECK(points_of("M0 0 L5 0 L5 5 L0 0 Z l3 3") == "0,0 5,0 5,5 Z | 0,0 3,3 ");
    CHECK(points_of("M0,0 1,1 M5,5 6,6") == "0,0 1,1 | 5,5 6,6 ");
}

TEST_CASE("numbers may stand as close as SVG allows") {
    CHECK(points_of("M.5-.5L1.5.5+2-3e1") == "0.5,-0.5 1.5,0.5 2,-30 ");
    CHECK(parse_svg_path("M0 0a5 5 0 0110 0", 0.02).paths.at(0).points.back() == Vec2{10.0, 0.0});
}

TEST_CASE("arcs have the length of their circle, either way round, small and large") {
    const auto arc = [](const char* flags) {
        return length_of(parse_svg_path(fmt::format("M 0,0 A 150,150 0 {} 150,150", flags), 0.001).paths.at(0));
    };
    CHECK(arc("0 1") == doctest::Approx(0.5 * pi * 150.0).epsilon(1e-4));
    CHECK(arc("0 0") == doctest::Approx(0.5 * pi * 150.0).epsilon(1e-4));
    CHECK(arc("1 1") == doctest::Approx(1.5 * pi * 150.0).epsilon(1e-4));
    CHECK(arc("1 0") == doctest::Approx(1.5 * pi * 150.0).epsilon(1e-4));
}

TEST_CASE("every point of a flattened arc lies on its circle; sweep 1 turns clockwise on the drawing") {
    const PathResult result = parse_svg_path("M 900,600 A 150,150 0 0 1 1050,750", 0.02);
    for (const Vec2 p : result.paths.at(0).points) {
        CHECK(length(p - Vec2{900.0, 750.0}) == doctest::Approx(150.0));
    }
}

TEST_CASE("arcs whose radii are too small grow; without a radius they are lines") {
    CHECK(length_of(parse_svg_path("M 0,0 A 1,1 0 0 1 100,0", 0.001).paths.at(0)) ==
          doctest::Approx(50.0 * pi).epsilon(1e-4));
    CHECK(points_of("M 0,0 A 0,7 0 0 1 100,0") == "0,0 100,0 ");
}

TEST_CASE("curves: cubic, smooth, quadratic and its smooth kind agree with one another") {
    const auto end_and_length = [](const char* path) {
        const SubPath sub = parse_svg_path(path, 0.001).paths.at(0);
        return fmt::format("{:g},{:g} {:.2f}", sub.points.back().x, sub.points.back().y, length_of(sub));
    };
    CHECK(end_and_length("M0 0 C 0 40 60 40 60 0 C 60 -40 120 -40 120 0") ==
          end_and_length("M0 0 C 0 40 60 40 60 0 S 120 -40 120 0"));
    CHECK(end_and_length("M0 0 Q 30 60 60 0 Q 90 -60 120 0") == end_and_length("M0 0 q 30 60 60 0 t 60 0"));
    CHECK(end_and_length("M0 0 Q 30 60 60 0") == end_and_length("M0 0 C 20 40 40 40 60 0"));
    CHECK(end_and_length("M0 0 C 10 0 20 0 30 0") == "30,0 30.00");
}

TEST_CASE("what is no path is refused with its place") {
    CHECK(fault_of("") == "0: the path draws nothing");
    CHECK(fault_of("M 3,4") == "0: the path draws nothing");
    CHECK(fault_of("L 3,4") == "0: a path begins with M, found L");
    CHECK(fault_of("M 0,0 X 3") == "6: `X` is no command of a path");
    CHECK(fault_of("M 0,0 L 3") == "9: expected a number for L here, found the end of the path");
    CHECK(fault_of("M 0,0 L 3,H") == "10: expected a number for L here, found `H`");
    CHECK(fault_of("M 0,0 L 3,1e9") == "10: this number is out of range");
    CHECK(fault_of("M 0,0 L 3,nan") == "10: this number is out of range");
    CHECK(fault_of("M 0,0 A 5 5 0 2 1 3 3") == "14: expected a flag of the arc here, 0 or 1");
}

TEST_CASE("a path of too many points is refused") {
    std::string path = "M0 0";
    for (int i = 0; i < 210'000; ++i) {
        path += i % 2 == 0 ? "h1" : "v1";
    }
    CHECK(fault_of(path).find("too many points") != std::string::npos);
}

TEST_CASE("radii of next to nothing grow as all that are too small, beside a larger one they are none") {
    CHECK(points_of("M 10 20 A 1e-300 1e-300 0 0 1 40 60") == points_of("M 10 20 A 0.1 0.1 0 0 1 40 60"));
    CHECK(points_of("M 10 20 A 1e-300 5 0 0 1 40 60") == points_of("M 10 20 L 40 60"));
}
