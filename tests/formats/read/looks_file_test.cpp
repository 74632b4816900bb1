#include "vast_turn/formats/read/looks_file.hpp"

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/golden.hpp"
#include "vast_turn/base/problem.hpp"

using namespace vast_turn;

namespace {

const char* const plan_with_markers = "plan \"t\"\nsensors 3\nmarkers amber, teal\nhabit go {\n else -> still\n}\n";

std::vector<LoggedLook> script(const std::string& text) {
    const Plan plan = fixtures::compiled(plan_with_markers);
    return LookScript(plan, ArrayReader(3), false, 10.0).parse(text, "looks");
}

std::vector<LoggedLook> log(const std::string& text, bool counts_known = false) {
    return parse_log(text, "log", ArrayReader(3), {"A0", "A1", "A2"}, counts_known);
}

} // namespace

TEST_CASE("every bad script of looks gets its message") {
    golden::check_catalogue("tests/formats/read/bad-looks.txt",
                            [](const std::string& text) { return fixtures::message_of([&] { script(text); }); });
}

TEST_CASE("every bad log gets its message") {
    golden::check_catalogue("tests/formats/read/bad-logs.txt",
                            [](const std::string& text) { return fixtures::message_of([&] { log(text); }); });
}

TEST_CASE("a script: patterns, readings, repeats, a clock that goes on, values that stay") {
    const auto looks =
        script("##. x2 // two of them\n\n0.1,0.2,0.9 range=12cm marker=teal clock=1s\n.#. button way=3mm\n");
    REQUIRE(looks.size() == 4);
    CHECK(looks[1].look.clock_ms == 10.0);
    CHECK(looks[0].look.line_bits == 3);
    CHECK(looks[0].look.offset == doctest::Approx(0.5));
    CHECK(looks[0].look.range_mm == nothing_ahead_mm);
    CHECK(looks[2].look.clock_ms == 1000.0);
    CHECK(looks[2].look.line_bits == 4);
    CHECK(looks[2].look.range_mm == 120.0);
    CHECK(looks[2].look.markers == 2);
    CHECK(looks[2].look.last_side == -1.0);
    CHECK(looks[3].look.clock_ms == 1010.0);
    CHECK(looks[3].look.range_mm == 120.0);
    CHECK(looks[3].look.button);
    CHECK(looks[3].look.way_mm == 3.0);
}

TEST_CASE("a log: patterns, readings or counts; powers where they were logged") {
    const auto by_pattern = log("time_ms,pattern,left_pct,right_pct\n0,#..,20,30\n12,.#.,21,31\n");
    REQUIRE(by_pattern.size() == 2);
    CHECK(by_pattern[1].look.clock_ms == 12.0);
    CHECK(by_pattern[0].look.offset == doctest::Approx(1.0));
    CHECK(*by_pattern[1].right_pct == 31.0);
    const auto by_readings = log("time_s,reading_1,reading_2,reading_3,way_mm\n0.5,0.9,0.6,0.2,44\n");
    CHECK(by_readings[0].look.line_bits == 3);
    CHECK(by_readings[0].look.clock_ms == 500.0);
    CHECK(by_readings[0].look.way_mm == 44.0);
    CHECK_FALSE(by_readings[0].left_pct.has_value());
    const auto by_counts = log("time_s,A2,A1,A0\n0,0,1,1\n", true);
    CHECK(by_counts[0].look.line_bits == 3); // by channel, whatever the order of the columns
}
