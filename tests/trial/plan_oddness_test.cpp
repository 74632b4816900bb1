/// How odd plans are: what the order of cures leans on.

#include <algorithm>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "trial/plan_changes.hpp"
#include "trial/plan_oddness.hpp"

using namespace vast_turn;

namespace {

int odd(const std::string& rules) { return oddness(fixtures::compiled(fixtures::plan_text(3, rules))); }

} // namespace

TEST_CASE("each odd thing makes a plan odder: no twin, no answer, out of reach, steering away, a minus") {
    const std::string middle = "[.#.] -> ahead(43)\n";
    const std::string sides = "[##.] mirrored -> wheels(26, 43)\n[#..] mirrored -> wheels(9, 43)\n";
    const int sound = odd(middle + sides + "else -> ahead(38)\n");
    CHECK(sound == 0);
    CHECK(odd(middle + "[##.] -> wheels(26, 43)\n[#..] mirrored -> wheels(9, 43)\nelse -> ahead(38)\n") > sound);
    CHECK(odd(middle + sides) > sound);
    CHECK(odd(middle + "[.#.] -> ahead(20)\n" + sides + "else -> ahead(38)\n") > sound);
    CHECK(odd(middle + "[##.] mirrored -> wheels(43, 26)\n[#..] mirrored -> wheels(9, 43)\nelse -> ahead(38)\n") >
          sound);
    CHECK(odd(middle + sides + "else -> ahead(-38)\n") > sound);
    const auto weighed = [](const std::string& weights) {
        return oddness(fixtures::compiled("plan \"p\"\nsensors 3\nweights " + weights +
                                          "\nhabit go {\n    else -> bend(20 * offset, 38)\n}\n"));
    };
    CHECK(weighed("1, 0, 1") > weighed("1, 0, -1"));
}

TEST_CASE("a plan that says the same in the same words is less irregular; sides and markers count as alike") {
    const auto of = [](const std::string& second) {
        return irregularity(fixtures::compiled("plan \"p\"\nsensors 3\nmarkers amber, teal\nvar met = 0\n"
                                               "habit go {\n    fresh amber -> set met = met + 1, do take(left)\n" +
                                               second +
                                               "\n    else -> ahead(38)\n}\n"
                                               "errand take(way) {\n    rotate(way, 30) over 80deg\n}\n"));
    };
    const int alike = of("    fresh teal -> set met = met + 1, do take(right)");
    CHECK(of("    fresh teal -> set met = met + 2, do take(right)") > alike);
    CHECK(of("    fresh teal -> set met = met + 1, do take(left)") == alike);
    CHECK(of("    teal -> set met = met + 1, do take(right)") > alike);
}

TEST_CASE("counts are changed by one, and no rule without sides is mirrored") {
    const Plan plan = fixtures::compiled("plan \"p\"\nsensors 3\nvar laps = 0\nhabit follow {\n"
                                         "    laps == 3 -> note(\"done\"), halt\n"
                                         "    fresh button -> set laps = laps + 1\n"
                                         "    [#..] -> wheels(9, 43)\n    else -> ahead(38)\n}\n");
    const std::vector<PlanChange> changes = PlanChanger(plan).all();
    const auto offered = [&](const std::string& what) {
        return std::any_of(changes.begin(), changes.end(), [&](const PlanChange& c) { return c.what == what; });
    };
    for (const char* what : {"line 5: 3 becomes 2", "line 5: 3 becomes 4", "line 6: 1 becomes 2", "line 7 mirrored"}) {
        CAPTURE(what);
        CHECK(offered(what));
    }
    CHECK_FALSE(offered("line 5 mirrored"));
    CHECK_FALSE(offered("line 6 mirrored"));
}
