/// What each word of the language does, asked of the runtime through compiled plans.

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/plan/mind.hpp"

using namespace vast_turn;
using fixtures::compiled;
using fixtures::plan_text;
using fixtures::powers;

namespace {

/// Powers that one rule gives for a pattern that it answers.
std::string motion(const std::string& acts, const std::string& marks = "#.") {
    return powers(compiled(plan_text(2, "else -> " + acts)), {marks});
}

/// Whether a condition holds for a pattern.
bool holds(const std::string& condition, const std::string& marks) {
    return powers(compiled(plan_text(static_cast<int>(marks.size()), condition + " -> ahead(1)\nelse -> still")),
                  {marks}) == "1,1";
}

} // namespace

TEST_CASE("motions: powers of both wheels, clipped to 100 each") {
    CHECK(motion("wheels(20, -30)") == "20,-30");
    CHECK(motion("ahead(40)") == "40,40");
    CHECK(motion("bend(15, 40)") == "25,55");
    CHECK(motion("bend(-15, 40)") == "55,25");
    CHECK(motion("bend(90, 40)") == "-50,100");
    CHECK(motion("pivot(left, 33)") == "0,33");
    CHECK(motion("pivot(right, 33)") == "33,0");
    CHECK(motion("rotate(left, 33)") == "-33,33");
    CHECK(motion("rotate(right, 33)") == "33,-33");
    CHECK(motion("still") == "0,0");
    CHECK(motion("wheels(250, -101)") == "100,-100");
}

TEST_CASE("keep, and a rule without a motion, give the last motion again; still at the start") {
    const auto plan =
        compiled(plan_text(2, "[#.] -> ahead(40)\n[.#] -> keep\n[##] -> note(\"x\")\n[..] -> wheels(1, 2)"));
    CHECK(powers(plan, {".#", "#.", ".#", "##", "..", "##"}) == "0,0 40,40 40,40 40,40 1,2 1,2");
}

TEST_CASE("the first rule that holds acts") {
    const auto plan = compiled(plan_text(2, "[#?] -> ahead(1)\n[?#] -> ahead(2)\n[..] -> ahead(3)"));
    CHECK(powers(plan, {"..", "#.", ".#", "##"}) == "3,3 1,1 2,2 1,1");
}

TEST_CASE("patterns: # line, . floor, ? either, blanks ignored") {
    CHECK(holds("[# . ?]", "#.."));
    CHECK(holds("[#.?]", "#.#"));
    CHECK_FALSE(holds("[#.?]", "##."));
    CHECK(holds("[????????]", "#.#.#.#."));
    CHECK(holds("[#]", "#"));
}

TEST_CASE("conditions combine, and their words bind as the language says") {
    CHECK(holds("[#.] or [.#] and false", "#."));
    CHECK_FALSE(holds("([#.] or [.#]) and false", "#."));
    CHECK(holds("not [##] and seen == 1", "#."));
    CHECK(holds("seen >= 1 and seen <= 1 and seen != 2 and not seen > 1 and not seen < 1", "#."));
    CHECK(holds("1 + 2 * 3 == 7 and 8 / 4 / 2 == 1 and 5 - 2 - 1 == 2 and -2 * -3 == 6", "#."));
    CHECK(holds("sensor(1) > 0.5 and sensor(2) < 0.5", "#."));
    CHECK(holds("last_side == left", "#."));
    CHECK(holds("min(3, 2) == 2 and max(3, 2) == 3 and abs(-4) == 4 and clamp(9, 1, 5) == 5 and clamp(0, 1, 5) == 1",
                "#."));
}

TEST_CASE("units: of one kind they compare and add, products and quotients make others") {
    CHECK(holds("4cm == 40mm and 1.5s == 1500ms and 2m > 3cm", "#."));
    CHECK(holds("20mm / 10ms * 5ms == 1cm and 30mm / 10mm == 3", "#."));
    CHECK(holds("clock < 1ms and elapsed == 0ms and looks == 0 looks and travelled == 0mm", "#."));
}

TEST_CASE("a rule may go on over line ends inside brackets and after , -> and or") {
    const auto plan =
        compiled(plan_text(2, "[#.] or\n [.#] and\n true ->\n wheels(1,\n 2),\n note(\"x\")\nelse -> still"));
    CHECK(powers(plan, {"#.", "##"}) == "1,2 0,0");
}

TEST_CASE("let names a constant: a number with its unit, a side, a truth, built from lets above it") {
    const auto plan = compiled(
        "plan \"t\"\nsensors 2\nlet a = 4\nlet b = a * 10 + 3\nlet way = right\nlet back = -way\nlet on = true\n"
        "let limit = 2 looks\nhabit follow {\n on and [##] lasting limit -> rotate(back, a)\n [##] -> rotate(way, b)\n "
        "else -> still\n}\n");
    CHECK(powers(plan, {"##", "##"}) == "43,-43 -4,4");
}

TEST_CASE("lasting looks holds from that many looks on without a break") {
    const auto plan = compiled(plan_text(2, "[##] lasting 3 looks -> ahead(3)\n[##] -> ahead(1)\nelse -> still"));
    CHECK(powers(plan, {"##", "##", "##", "##", "..", "##", "##", "##"}) == "1,1 1,1 3,3 3,3 0,0 1,1 1,1 3,3");
}

TEST_CASE("lasting a time holds once the condition is that old") {
    const auto plan = compiled(plan_text(2, "[##] lasting 20ms -> ahead(3)\n[##] -> ahead(1)\nelse -> still"));
    CHECK(powers(plan, {"##", "##", "##", "..", "##"}) == "1,1 1,1 3,3 0,0 1,1");
}

TEST_CASE("lasting counts at every look, whichever habit is in hand, and may stand in another lasting") {
    const auto plan = compiled("plan \"t\"\nsensors 2\nhabit a {\n seen > 1 -> become b\n else -> ahead(1)\n}\n"
                               "habit b {\n [##] lasting 3 looks -> ahead(9)\n else -> ahead(2)\n}\n");
    CHECK(powers(plan, {"#.", "##", "##", "##"}) == "1,1 2,2 2,2 9,9");
    const auto nested = compiled(plan_text(2, "(([##] lasting 2 looks) lasting 2 looks) -> ahead(5)\nelse -> still"));
    CHECK(powers(nested, {"##", "##", "##"}) == "0,0 0,0 5,5");
}

TEST_CASE("as puts the rules of another habit in its place, with memory of their own") {
    const auto plan = compiled("plan \"t\"\nsensors 2\nhabit a {\n [##] -> ahead(9)\n as b\n else -> "
                               "ahead(7)\n}\nhabit b {\n [#.] mirrored -> wheels(1, 2)\n}\n");
    CHECK(powers(plan, {"##", "#.", ".#", ".."}) == "9,9 1,2 2,1 7,7");
    CHECK(plan.rules()[1].written_in == "b");
    CHECK(plan.rules()[1].block == "a");
}

TEST_CASE("become goes over to another habit in the same look, for good") {
    const auto plan = compiled("plan \"t\"\nsensors 2\nhabit a {\n [##] -> ahead(5), become b\n else -> "
                               "ahead(1)\n}\nhabit b {\n [#.] -> ahead(2)\n [##] -> keep\n else -> still\n}\n");
    CHECK(powers(plan, {"..", "##", "#.", ".."}) == "1,1 5,5 2,2 0,0");
}

TEST_CASE("clocks of a block begin anew when it is entered") {
    const auto plan = compiled("plan \"t\"\nsensors 2\nhabit a {\n elapsed >= 20ms -> become b\n else -> "
                               "ahead(1)\n}\nhabit b {\n looks >= 2 looks -> ahead(3)\n else -> ahead(2)\n}\n");
    CHECK(powers(plan, {"..", "..", "..", "..", ".."}) == "1,1 1,1 2,2 2,2 3,3");
}

TEST_CASE("halt gives power 0 at once and for good") {
    const auto plan = compiled(plan_text(2, "[##] -> ahead(9), halt\nelse -> ahead(1)"));
    CHECK(powers(plan, {"..", "##", "..", ".."}) == "1,1 0,0! 0,0! 0,0!");
}

TEST_CASE("the plan's own weights replace the robot's for offset") {
    const auto plan =
        compiled("plan \"t\"\nsensors 3\nweights 1, 0.5, -1\nhabit follow {\n else -> bend(10 * offset, 40)\n}\n");
    CHECK(powers(plan, {"...", "#..", ".#.", "##.", "...", "..#"}) == "40,40 30,50 35,45 32.5,47.5 32.5,47.5 50,30");
}

TEST_CASE("a byte order mark, carriage returns and a missing last line end do no harm") {
    CHECK(powers(compiled("\xEF\xBB\xBFplan \"t\"\r\nsensors 2\r\nhabit f {\r\n    else -> ahead(4) // on\r\n}"),
                 {".."}) == "4,4");
}

namespace {

/// Powers for a look that a plan with markers is asked.
std::string asked(const std::string& rules, const Look& look) {
    Mind mind(
        compiled("plan \"t\"\nsensors 2\nmarkers amber, teal, magenta\nhabit go {\n" + rules + "\nelse -> still\n}\n"));
    Answer answer;
    mind(look, answer);
    return std::to_string(static_cast<int>(answer.left_pct)) + "," + std::to_string(static_cast<int>(answer.right_pct));
}

} // namespace

TEST_CASE("range, button and markers are inputs of a look") {
    Look look = fixtures::look("..");
    CHECK(asked("range < 90mm -> ahead(9)", look) == "0,0");
    look.range_mm = 88.0;
    CHECK(asked("range < 9cm -> ahead(9)", look) == "9,9");
    CHECK(asked("button -> ahead(9)", look) == "0,0");
    look.button = true;
    CHECK(asked("button and range > 80mm -> ahead(9)", look) == "9,9");
    look.markers = 0b100;
    CHECK(asked("amber or teal -> ahead(9)", look) == "0,0");
    CHECK(asked("magenta and not amber -> ahead(9)", look) == "9,9");
    CHECK(asked("magenta mirrored -> wheels(1, 2)", look) == "1,2"); // a marker is its own mirror image
    CHECK(asked("magenta lasting 2 looks -> ahead(9)", look) == "0,0");
}

TEST_CASE("news that a block's rule has acted on is none for the same block done again in the same look") {
    const Plan errand = compiled(
        "plan \"t\"\nsensors 2\n\nerrand round {\n    do to_plate\n    ahead(11) over 1 look\n    do to_plate\n"
        "    ahead(22) over 1 look\n    halt\n}\n\nhabit to_plate {\n    fresh [##] -> done\n"
        "    else -> ahead(5)\n}\n");
    CHECK(powers(errand, {"..", "##", "##", "##", "..", "##", "##"}) == "5,5 11,11 5,5 5,5 5,5 22,22 0,0!");
    const Plan twice = compiled("plan \"t\"\nsensors 2\nerrand round {\n do to_plate\n do to_plate\n halt\n}\n"
                                "habit to_plate {\n fresh [##] -> done\n else -> ahead(5)\n}\n");
    CHECK(powers(twice, {"..", "##", "##", "..", "##"}) == "5,5 5,5 5,5 5,5 0,0!");
    const Plan guarded = compiled("plan \"t\"\nsensors 2\nerrand round {\n do walk\n do walk\n halt\n}\n"
                                  "habit walk {\n guard fresh [##] -> done\n else -> ahead(5)\n}\n");
    CHECK(powers(guarded, {"..", "##", "##", "..", "##"}) == "5,5 5,5 5,5 5,5 0,0!");
    // Two blocks, each with its own rule: each takes the news.
    const Plan each = compiled("plan \"t\"\nsensors 2\nerrand round {\n do one\n do other\n halt\n}\n"
                               "habit one {\n fresh [##] -> done\n else -> ahead(5)\n}\n"
                               "habit other {\n fresh [##] -> done\n else -> ahead(6)\n}\n");
    CHECK(powers(each, {"..", "##"}) == "5,5 0,0!");
}
