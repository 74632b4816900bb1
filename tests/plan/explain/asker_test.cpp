/// What the bench says of a look: block, rule, why not the others, memory.
#include "vast_turn/plan/explain/asker.hpp"

#include <algorithm>
#include <iterator>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/plan/explain/log_check.hpp"

using namespace vast_turn;
using fixtures::compiled;
using fixtures::look;
using fixtures::plan_text;

namespace {

/// The rules that were asked.
std::vector<AskedStep> rules_asked(const Reply& reply) {
    std::vector<AskedStep> rules;
    std::copy_if(reply.steps.begin(), reply.steps.end(), std::back_inserter(rules),
                 [](const AskedStep& step) { return step.stage == runtime::Stage::rule; });
    return rules;
}

/// Why the first rule of a plan of two sensors does not hold in a look.
std::string why_not(const std::string& condition, const Look& asked) {
    Asker asker(compiled(plan_text(2, condition + " -> ahead(9)\nelse -> still")));
    const Reply reply = asker.ask(asked);
    const std::vector<AskedStep> rules = rules_asked(reply);
    REQUIRE(rules.size() == 2);
    CHECK_FALSE(reply.unanswered);
    return rules[0].because;
}

} // namespace

TEST_CASE("a rule that does not hold says what is missing") {
    Look at = look("#.", 120.0);
    at.range_mm = 240.0;
    CHECK(why_not("[##]", at) == "[##] wants line under sensor 2");
    CHECK(why_not("[.?]", at) == "[.?] wants floor under sensor 1");
    CHECK(why_not("seen > 1", at) == "seen is 1");
    CHECK(why_not("range < 90mm", at) == "range is 240mm");
    CHECK(why_not("sensor(2) > 0.5 and seen == 1", at) == "sensor(2) is 0");
    CHECK(why_not("[..] or button", at) == "[..] wants floor under sensor 1; button is false");
    CHECK(why_not("not [#.]", at) == "[#.] holds");
    CHECK(why_not("last_side == right", at) == "last_side is left");
    CHECK(why_not("clock > 200ms", at) == "clock is 120ms");
    CHECK(why_not("false", at) == "false never holds");
    CHECK(why_not("[#.] lasting 3 looks", at) == "[#.] has lasted 1 of 3 looks");
    CHECK(why_not("[#.] lasting 40ms", at) == "[#.] has lasted 0ms of 40ms");
    CHECK(why_not("[##] lasting 40ms", at) == "[##] wants line under sensor 2");
}

TEST_CASE("transfers in one look are told block by block, with clocks of their own") {
    const Plan plan = compiled("plan \"t\"\nsensors 1\nhabit a {\n elapsed > 5ms -> become b\n else -> ahead(1)\n}\n"
                               "habit b {\n elapsed > 5ms -> ahead(3)\n else -> ahead(2)\n}\n");
    Asker asker(plan);
    CHECK(rules_asked(asker.ask(look(".", 0.0))).size() == 2);
    const Reply reply = asker.ask(look(".", 10.0));
    const std::vector<AskedStep> rules = rules_asked(reply);
    REQUIRE(rules.size() == 3);
    CHECK(plan.rule(rules[0].rule).block == "a");
    CHECK(rules[1].because == "elapsed is 0ms");
    CHECK(reply.answer.left_pct == 2.0);
    REQUIRE(reply.memory.size() == 1);
    CHECK(reply.memory[0] == "the block in hand was a, now it is b");
}

TEST_CASE("memory that changes is told: lasting begins, is fulfilled, is over") {
    Asker asker(compiled(plan_text(1, "[#] lasting 2 looks -> still\nelse -> ahead(5)")));
    CHECK(asker.ask(look(".", 0.0)).memory.empty());
    CHECK(asker.ask(look("#", 10.0)).memory.at(0) == "`[#]` has held for 1 look, 0ms; 2 looks are wanted");
    CHECK(asker.ask(look("#", 20.0)).memory.at(0) == "`[#]` has now lasted 2 looks");
    CHECK(asker.ask(look(".", 30.0)).memory.at(0) == "`[#]` is over after 2 looks");
}

TEST_CASE("a limit that goes on says how far its own item has come, also while another errand acts in it") {
    Asker asker(
        compiled("plan \"t\"\nsensors 1\nerrand a {\n do b over 90mm\n}\nerrand b {\n ahead(5) over 40ms\n still till "
                 "false\n}\n"));
    asker.ask(look(".", 0.0));
    Look at = look(".", 10.0);
    at.way_mm = 35.0;
    const Reply reply = asker.ask(at);
    std::vector<std::string> reasons;
    for (const AskedStep& step : reply.steps) {
        if (step.stage == runtime::Stage::limit) {
            reasons.push_back(step.because);
        }
    }
    REQUIRE(reasons.size() == 2);
    CHECK(reasons[0] == "do b has come 35mm of 90mm");
    CHECK(reasons[1] == "ahead(5) has come 10ms of 40ms");
    REQUIRE(reply.in_hand.size() == 2);
    CHECK(reply.in_hand[1].block == 1);
}

TEST_CASE("vars that change are told") {
    Asker asker(compiled("plan \"t\"\nsensors 1\nvar far = 3mm\nhabit a {\n else -> set far = far * 2\n}\n"));
    CHECK(asker.ask(look(".", 0.0)).memory.at(0) == "far was 3mm, now it is 6mm");
}

TEST_CASE("an unanswered look and a halted plan say so") {
    Asker asker(compiled(plan_text(1, "[#] -> halt")));
    const Reply open = asker.ask(look(".", 0.0));
    CHECK(rules_asked(open).size() == 1);
    CHECK(open.unanswered);
    CHECK(asker.ask(look("#", 10.0)).answer.halted);
    CHECK(asker.ask(look("#", 20.0)).steps.empty());
}

TEST_CASE("markers and the button are conditions") {
    const Plan plan = compiled("plan \"m\"\nsensors 1\nmarkers amber, teal\nhabit go {\n teal and button -> ahead(7)\n"
                               " amber -> ahead(6)\n else -> still\n}\n");
    Look at = look(".");
    at.markers = 2;
    at.button = true;
    CHECK(Asker(plan).ask(at).answer.left_pct == 7.0);
    at.markers = 1;
    const Reply reply = Asker(plan).ask(at);
    CHECK(reply.answer.left_pct == 6.0);
    CHECK(rules_asked(reply)[0].because == "teal is not in view");
}

TEST_CASE("a log is held against the plan; the first difference is told in full") {
    const Plan plan = compiled(plan_text(1, "[#] -> ahead(20)\nelse -> ahead(50)"));
    const std::vector<LoggedLook> log = {
        {look(".", 0.0), 50.0, 50.3}, {look("#", 10.0), 50.0, 50.0}, {look("#", 20.0), {}, {}}};
    const LogCheck check = check_log(plan, log);
    CHECK(check.compared == 2);
    CHECK(check.differing == 1);
    REQUIRE(check.first);
    CHECK(*check.first == 1);
    CHECK(check.first_reply->answer.left_pct == 20.0);
    CHECK(check_log(plan, log, 0.1).first == 0);
    CHECK(check.decisions.size() == 3);
}
