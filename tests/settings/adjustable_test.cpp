/// Numbers that may be changed while the robot runs.
#include "vast_turn/settings/adjustable.hpp"

#include <algorithm>
#include <string>
#include <vector>

#include <doctest/doctest.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/plan/mind.hpp"

using namespace vast_turn;

namespace {

const char* const adjustable_text = R"(plan "adjustable"
sensors 1
let cruise = 47 // may be 36..84
let pause = 0.4s // may be 0.1..0.9
let step = 3 // may be 1..5
let wide = step * 2
let wider = (wide + cruise) / 4
let plain = 12
let calm = 48ms // may be 30..90
let calmer = calm
habit follow {
    [#] and clock < pause -> wheels(cruise, wide)
    [#] and [#] lasting calmer -> wheels(wider, step)
    else -> wheels(plain, cruise)
}
)";

} // namespace

TEST_CASE("adjustable: lets become vars, units and all, and those that are reckoned from them; constants stay") {
    const AdjustablePlan made = adjustable_plan(adjustable_text, "a.plan");
    REQUIRE(made.lets.size() == 3);
    CHECK(made.lets[0].name == "cruise");
    CHECK(made.lets[0].least == 36.0);
    CHECK(made.lets[0].most == 84.0);
    CHECK(made.lets[0].factor == 1.0);
    CHECK(made.lets[1].name == "pause");
    CHECK(made.lets[1].now.value == 0.4);
    CHECK(made.lets[1].factor == 1000.0);
    CHECK(made.fixed == std::vector<std::string>{"calm"});
    CHECK(made.plan.vars() == std::vector<std::string>{"cruise", "pause", "step", "wide", "wider"});
    REQUIRE(made.reckoned.size() == 2);
    CHECK(made.reckoned[0].name == "wide");
    CHECK(made.reckoned[0].value == 6.0);
    CHECK(made.reckoned[1].value == 13.25);
}

TEST_CASE("adjustable: what is reckoned follows, so that it decides as the plan with those numbers") {
    const AdjustablePlan made = adjustable_plan(adjustable_text, "a.plan");
    const std::vector<Setting> settings = {{Setting::Of::plan, "step", "4.5"}, {Setting::Of::plan, "cruise", "61"}};
    SettingsTaken taken;
    const Compiled written = compile_plan(plan_text_with(adjustable_text, "a.plan", settings, taken), "a.plan");
    REQUIRE(written.plan);
    Mind one(*written.plan);
    Mind other(made.plan);
    const std::vector<std::string>& vars = made.plan.vars();
    const auto give = [&](const std::string& name, double value) {
        other.set_var(static_cast<std::size_t>(std::find(vars.begin(), vars.end(), name) - vars.begin()), value);
    };
    give("step", 4.5);
    give("cruise", 61.0);
    const std::vector<ReckonedLet> reckoned = reckoned_with(adjustable_text, "a.plan", settings);
    CHECK(reckoned.size() == 2);
    for (const ReckonedLet& let : reckoned) {
        give(let.name, let.value);
    }
    Look look;
    look.sensors = 1;
    int by_reckoned = 0;
    for (int i = 0; i < 200; ++i) {
        look.clock_ms = 12.0 * i;
        look.line_bits = i % 90 < 60 ? 1 : 0;
        Answer a;
        Answer b;
        one(look, a);
        other(look, b);
        REQUIRE(a.left_pct == b.left_pct);
        REQUIRE(a.right_pct == b.right_pct);
        by_reckoned += a.right_pct == 9.0 || a.left_pct == 17.5 ? 1 : 0;
    }
    CHECK(by_reckoned > 100);
    CHECK_THROWS_WITH(reckoned_with(adjustable_text, "a.plan", {{Setting::Of::plan, "stepp", "4"}}),
                      doctest::Contains("did you mean `step`"));
    const std::string parts =
        "plan \"x\"\nsensors 1\nlet a = 4 // may be 0..9\nlet b = 1 / a\nhabit f {\n    else -> ahead(b)\n}\n";
    CHECK_THROWS_WITH(reckoned_with(parts, "a.plan", {{Setting::Of::plan, "a", "0"}}),
                      doctest::Contains("is not constant"));
}

TEST_CASE("adjustable: it decides as the plan does until a number is given from outside") {
    const Compiled plain = compile_plan(adjustable_text, "a.plan");
    REQUIRE(plain.plan);
    const AdjustablePlan made = adjustable_plan(adjustable_text, "a.plan");
    Mind one(*plain.plan);
    Mind other(made.plan);
    Look look;
    look.sensors = 1;
    for (int i = 0; i < 200; ++i) {
        look.clock_ms = 12.0 * i;
        look.line_bits = i % 90 < 60 ? 1 : 0;
        Answer a;
        Answer b;
        one(look, a);
        other(look, b);
        REQUIRE(a.left_pct == b.left_pct);
        REQUIRE(a.right_pct == b.right_pct);
    }
    other.set_var(0, 60.0);
    look.clock_ms += 12.0;
    look.line_bits = 0;
    Answer answer;
    other(look, answer);
    CHECK(answer.right_pct == 60.0);
}

TEST_CASE("adjustable: comments that allow no range, and texts that do not compile, are refused") {
    CHECK_THROWS_AS(adjustable_plan("plan \"x\"\nsensors 1\nlet a = \n", "a.plan"), InputError);
    CHECK_THROWS_WITH(
        adjustable_plan("plan \"x\"\nsensors 1\nlet a = 4 // may be 9..2\nhabit f {\n    else -> ahead(a)\n}\n",
                        "a.plan"),
        doctest::Contains("which is no range"));
    CHECK_THROWS_WITH(
        adjustable_plan("plan \"x\"\nsensors 1\nlet a = 4 // may be 1mm..2mm\nhabit f {\n    else -> ahead(a)\n}\n",
                        "a.plan"),
        doctest::Contains("which is no range"));
}
