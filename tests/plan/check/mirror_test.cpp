#include <doctest/doctest.h>

#include <utility>

#include "support/fixtures.hpp"
#include "vast_turn/sense/pattern.hpp"

using namespace vast_turn;
using fixtures::compiled;
using fixtures::plan_text;
using fixtures::powers;

namespace {

/// Condition and acts of the twin of a rule.
std::string twin_of(const std::string& rule, int sensors = 3) {
    const Plan plan = compiled(plan_text(sensors, rule + "\nelse -> keep"));
    REQUIRE(plan.rules()[1].is_twin);
    return plan.rules()[1].condition + " -> " + plan.rules()[1].acts;
}

} // namespace

TEST_CASE("the twin stands directly after its rule") {
    const Plan plan = compiled(plan_text(3, "[##.] mirrored -> wheels(25, 50)\n[?##] -> ahead(1)\nelse -> still"));
    CHECK(powers(plan, {"##.", ".##", "###"}) == "25,50 50,25 1,1");
}

TEST_CASE("patterns are reversed, sensors and wheels exchanged") {
    CHECK(twin_of("[#.?] mirrored -> wheels(20, 40)") == "[?.#] -> wheels(40, 20)");
    CHECK(twin_of("sensor(1) > sensor(2) mirrored -> wheels(20 * sensor(3), 40)") ==
          "sensor(3) > sensor(2) -> wheels(40, 20 * sensor(1))");
    CHECK(twin_of("[##.] lasting 3 looks mirrored -> wheels(1, 2)") == "[.##] lasting 3 looks -> wheels(2, 1)");
}

TEST_CASE("a side that is written out is exchanged, one that is looked up mirrors by itself") {
    CHECK(twin_of("[#..] mirrored -> rotate(left, 30)") == "[..#] -> rotate(right, 30)");
    CHECK(twin_of("[#..] mirrored -> pivot(right, 30)") == "[..#] -> pivot(left, 30)");
    CHECK(twin_of("[#..] mirrored -> rotate(last_side, 30)") == "[..#] -> rotate(last_side, 30)");
    CHECK(twin_of("[#..] mirrored -> rotate(-last_side, 30)") == "[..#] -> rotate(-last_side, 30)");
    CHECK(twin_of("[#..] mirrored -> ahead(40 + 5 * last_side)") == "[..#] -> ahead(40 + 5 * -last_side)");
}

TEST_CASE("in a sum a written side is a number, so that the twin does the mirror image") {
    CHECK(powers(compiled(plan_text(2, "[#.] mirrored -> bend(10 * left, 40)\nelse -> still")), {"#.", ".#"}) ==
          "30,50 50,30");
    CHECK(powers(compiled(plan_text(2, "[#.] mirrored -> wheels(30 - 20 * left, 30 + 20 * left)\nelse -> still")),
                 {"#.", ".#"}) == "10,50 50,10");
    CHECK(twin_of("offset > 0.3 * left mirrored -> still") == "-offset > 0.3 * left -> still");
    CHECK(twin_of("last_side == left mirrored -> still") == "last_side == right -> still");
    const std::string kept =
        fixtures::problems_of("plan \"t\"\nsensors 2\nvar x = 0\nhabit go {\n"
                              "[#.] mirrored -> set x = 10 * left, still\nelse -> bend(x, 40)\n}\n");
    CHECK(kept.find("plan:5:31: error: in a sum `left` is the number 1, for both twins") != std::string::npos);
    CHECK(fixtures::problems_of("plan \"t\"\nsensors 2\nvar x = left\nhabit go {\n[#.] mirrored -> set x = left, "
                                "bend(10 * x, 5)\nelse -> still\n}\n")
              .empty());
}

TEST_CASE("offset and bend are negated") {
    CHECK(twin_of("offset > 0.3 mirrored -> bend(30, 40)") == "-offset > 0.3 -> bend(-30, 40)");
    CHECK(twin_of("[#..] mirrored -> bend(-20, 40)") == "[..#] -> bend(20, 40)");
}

TEST_CASE("a mirrored plan does to mirrored patterns what the plan does to patterns") {
    const Plan plan =
        compiled(plan_text(3, "[#..] mirrored -> bend(20 + 10 * sensor(1), 40)\n[##.] mirrored -> wheels(-20, 50)\n"
                              "[#.#] and sensor(1) > 0.2 -> still\nelse -> ahead(50)"));
    for (int bits = 0; bits < 8; ++bits) {
        const Pattern pattern{static_cast<std::uint8_t>(bits), 3};
        CAPTURE(to_marks(pattern));
        const auto wheels = [&](Pattern p) {
            Answer answer;
            Mind mind(plan);
            mind(fixtures::look(to_marks(p)), answer);
            return std::pair{answer.left_pct, answer.right_pct};
        };
        const auto [left, right] = wheels(pattern);
        CHECK(wheels(mirrored(pattern)) == std::pair{right, left});
    }
}
