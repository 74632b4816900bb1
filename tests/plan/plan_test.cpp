#include "vast_turn/plan/plan.hpp"

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/runtime/machine.hpp"

using namespace vast_turn;
using fixtures::compiled;
using fixtures::plan_text;

TEST_CASE("a rule knows where it is written") {
    const Plan plan =
        compiled("plan \"t\"\nsensors 2\nhabit follow {\n    [#.]   mirrored -> wheels(2+3, 4)\n    else -> keep\n}\n");
    REQUIRE(plan.rules().size() == 3);
    CHECK(plan.rules()[0].line == 4);
    CHECK(plan.rules()[0].column == 5);
    CHECK(plan.rules()[0].condition == "[#.]");
    CHECK(plan.rules()[0].acts == "wheels(2 + 3, 4)");
    CHECK(plan.rules()[1].is_twin);
    CHECK(plan.rules()[2].condition == "else");
    CHECK(plan.name() == "t");
    CHECK(plan.file() == "plan");
}

TEST_CASE("plans that say the same compile to the same program") {
    const Plan a = compiled(
        plan_text(2, "[#.] mirrored -> wheels(20, 40)\nseen > 1 and elapsed > 1.5s -> halt\nelse -> ahead(10 * 5)"));
    const Plan b = compiled(plan_text(2, "[# .] -> wheels(20,40) // left\n[.#]->wheels(40,20)\n(seen>1) and "
                                         "(elapsed>1500ms) -> halt\nelse -> ahead(50)"));
    CHECK(a.tables() == b.tables());
    const Plan c = compiled(
        plan_text(2, "[#.] mirrored -> wheels(20, 41)\nseen > 1 and elapsed > 1.5s -> halt\nelse -> ahead(10 * 5)"));
    CHECK_FALSE(a.tables() == c.tables());
}

TEST_CASE("memory on the robot is known and grows with what must be remembered") {
    const Plan without = compiled(plan_text(2, "else -> keep"));
    const Plan with = compiled(plan_text(2, "[##] lasting 3 looks -> halt\nelse -> keep"));
    CHECK(with.memory_bytes() == without.memory_bytes() + sizeof(runtime::WatchState));
    CHECK(with.table_bytes() > without.table_bytes());
}
