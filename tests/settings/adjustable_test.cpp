/// Numbers that may be changed while the robot runs.
#include "vast_turn/settings/adjustable.hpp"

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
let plain = 12
habit follow {
    [#] and clock < pause -> wheels(cruise, wide)
    else -> wheels(plain, cruise)
}
)";

} // namespace

TEST_CASE("adjustable: lets become vars, units and all, unless others are reckoned from them") {
    const AdjustablePlan made = adjustable_plan(adjustable_text, "a.plan");
    REQUIRE(made.lets.size() == 2);
    CHECK(made.lets[0].name == "cruise");
    CHECK(made.lets[0].least == 36.0);
    CHECK(made.lets[0].most == 84.0);
    CHECK(made.lets[0].factor == 1.0);
    CHECK(made.lets[1].name == "pause");
    CHECK(made.lets[1].now.value == 0.4);
    CHECK(made.lets[1].factor == 1000.0);
    CHECK(made.fixed == std::vector<std::string>{"step"});
    CHECK(made.plan.vars() == std::vector<std::string>{"cruise", "pause"});
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
