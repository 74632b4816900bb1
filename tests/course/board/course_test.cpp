#include "vast_turn/course/board/course.hpp"

#include <doctest/doctest.h>
#include <fmt/format.h>
#include <fmt/ranges.h>

using namespace vast_turn;

namespace {

std::string pieces(const Tape& tape) {
    std::string text;
    for (const auto& piece : pieces_of(tape)) {
        text += fmt::format("{:g},{:g}..{:g},{:g} ", piece.front().x, piece.front().y, piece.back().x, piece.back().y);
    }
    return text;
}

} // namespace

TEST_CASE("gaps are cut out along the path, in any order, also when they overlap or touch the ends") {
    const Tape corner{{{0, 0}, {100, 0}, {100, 50}}, false, 19.0, {{90, 20}, {10, 5}}};
    CHECK(length_of(corner) == doctest::Approx(150.0));
    CHECK(pieces(corner) == "0,0..10,0 15,0..90,0 100,10..100,50 ");
    CHECK(pieces({{{0, 0}, {100, 0}}, false, 19.0, {{0, 30}, {20, 30}, {80, 20}}}) == "50,0..80,0 ");
    CHECK(pieces({{{0, 0}, {100, 0}}, false, 19.0, {{0, 100}}}).empty());
}

TEST_CASE("a closed tape is one side longer") {
    CHECK(length_of({{{0, 0}, {30, 0}, {30, 40}}, true, 19.0, {}}) == doctest::Approx(120.0));
}

TEST_CASE("starts and places are found by name; the first start without one") {
    Course course;
    CHECK(course.find_start("") == nullptr);
    course.starts = {{"bench", {}}, {"door", {}}};
    course.places = {{"dock", {}, 40.0}};
    CHECK(course.find_start("")->name == "bench");
    CHECK(course.find_start("door")->name == "door");
    CHECK(course.find_start("window") == nullptr);
    CHECK(course.find_place("dock") == course.places.data());
    CHECK(course.find_place("bench") == nullptr);
}

TEST_CASE("a gap on a closed tape may cross its seam only as two gaps, and the pieces cover the rest") {
    const Tape loop{{{0, 0}, {100, 0}, {100, 100}, {0, 100}}, true, 19.0, {{0, 20}, {380, 20}}};
    CHECK(pieces(loop) == "20,0..0,20 ");
    double kept = 0.0;
    for (const auto& piece : pieces_of(loop)) {
        for (std::size_t i = 0; i + 1 < piece.size(); ++i) {
            kept += length(piece[i + 1] - piece[i]);
        }
    }
    CHECK(kept == doctest::Approx(360.0));
}
