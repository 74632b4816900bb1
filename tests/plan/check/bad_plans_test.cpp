#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/golden.hpp"
#include "vast_turn/plan/plan.hpp"

using namespace vast_turn;

TEST_CASE("every bad plan of the catalogue gets its message") {
    const std::string path = "tests/plan/check/bad-plans.txt";
    CHECK(golden::catalogue(path).size() >= 60);
    golden::check_catalogue(path, fixtures::problems_of);
}

TEST_CASE("a plan that goes too deep or too long is refused, not followed") {
    const std::string deep(5000, '(');
    CHECK(fixtures::problems_of(fixtures::plan_text(2, deep + "seen > 1 -> halt")).find("brackets go too deep") !=
          std::string::npos);
    std::string minus = "    seen > ";
    minus.append(5000, '-');
    CHECK(fixtures::problems_of(fixtures::plan_text(2, minus + "1 -> halt")).find("brackets go too deep") !=
          std::string::npos);
    std::string sum = "    seen > 1";
    for (int i = 0; i < 5000; ++i) {
        sum += "+1";
    }
    CHECK(fixtures::problems_of(fixtures::plan_text(2, sum + " -> halt")).find("too long") != std::string::npos);
    CHECK(fixtures::problems_of(std::string((1U << 20U) + 1, ' ')).find("larger than 1 MiB") != std::string::npos);
}

TEST_CASE("habits that multiply one another's rules are refused at 4096") {
    std::string text = "plan \"t\"\nsensors 2\nhabit h0 {\n    seen > 5 -> keep\n    else -> keep\n}\n";
    for (int i = 1; i < 16; ++i) {
        const std::string before = "h" + std::to_string(i - 1);
        text += "habit h" + std::to_string(i) + " {\n    as " + before + "\n    as " + before + "\n}\n";
    }
    CHECK(fixtures::problems_of(text).find("more than 4096 rules") != std::string::npos);
}

TEST_CASE("arguments of as that double from habit to habit are refused, not followed") {
    std::string text = "plan \"t\"\nsensors 2\nhabit go {\n    as h30(seen)\n    else -> keep\n}\n"
                       "habit h0(a0) {\n    a0 > 5 -> still\n}\n";
    for (int i = 1; i <= 30; ++i) {
        const std::string a = "a" + std::to_string(i);
        text += "habit h" + std::to_string(i) + "(" + a + ") {\n    as h" + std::to_string(i - 1) + "(" + a + " + " +
                a + ")\n}\n";
    }
    CHECK(fixtures::problems_of(text).find("the arguments of `as` grow too large here") != std::string::npos);
}

TEST_CASE("no more errors are shown than fit a screen, and the rest is counted") {
    std::string rules;
    for (int i = 0; i < 50; ++i) {
        rules += "    seen > 1mm -> halt\n";
    }
    const Compiled result = compile_plan(fixtures::plan_text(2, rules), "plan");
    CHECK_FALSE(result.plan.has_value());
    CHECK(result.problems.size() == 21);
    CHECK(result.problems.back().message == "30 more errors not shown");
}

TEST_CASE("every prefix of a good plan is read without harm") {
    const std::string good = "plan \"t\"\nsensors 2\nweights 1, -1\nlet a = (2 * 3)\nhabit follow {\n"
                             "    not ([#.] lasting 20ms) and sensor(1) > -0.5 mirrored -> bend(a * offset, 40), "
                             "note(\"x\")\n    else -> halt\n}\n";
    fixtures::compiled(good);
    for (std::size_t n = 0; n + 2 < good.size(); ++n) {
        CHECK_FALSE(compile_plan(good.substr(0, n), "plan").plan.has_value());
    }
}
