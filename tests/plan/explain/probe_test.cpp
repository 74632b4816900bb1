/// Questions put to a plan from outside.

#include "vast_turn/plan/explain/probe.hpp"

#include <doctest/doctest.h>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"

using namespace vast_turn;

namespace {

const char* const counting = "plan \"counting\"\nsensors 3\nmarkers amber, teal\nlet far = 90mm\nlet calm = 25\n"
                             "var laps = 0\nvar gone = 0mm\n"
                             "habit follow {\n  fresh [###] -> set laps = laps + 1\n  fresh amber -> note(\"seen\")\n"
                             "  heard(bell) -> set gone = travelled\n  [.#.] -> ahead(calm)\n  else -> keep\n}\n";

/// The first look, by number, at which a condition holds in a script of patterns; -1 for none. 12 ms a look, 7 mm.
int first_at(const Plan& plan, const std::string& condition, const std::vector<std::string>& patterns) {
    ProbeResult made = make_probe(plan, condition);
    REQUIRE_MESSAGE(made.probe.has_value(), (made.problems.empty() ? "" : made.problems[0].message));
    Mind mind(plan);
    Answer answer;
    for (std::size_t i = 0; i < patterns.size(); ++i) {
        Look look = fixtures::look(patterns[i], 12.0 * static_cast<double>(i));
        look.way_mm = 40.0 + 7.0 * static_cast<double>(i);
        answer.events = 0;
        mind(look, answer);
        if (made.probe->holds(mind, look)) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

std::string problem_of(const std::string& condition) {
    const ProbeResult made = make_probe(fixtures::compiled(counting), condition);
    CHECK_FALSE(made.probe.has_value());
    REQUIRE_FALSE(made.problems.empty());
    const Problem& first = made.problems[0];
    return std::to_string(first.place.column) + ": " + first.message;
}

} // namespace

TEST_CASE("a condition asked of a plan from outside holds when a guard of the plan would find it so") {
    const Plan plan = fixtures::compiled(counting);
    const std::vector<std::string> looks = {".#.", ".#.", "###", "###", ".#.", "..#", "..#", "..#", "###", ".#."};
    CHECK(first_at(plan, "[..#]", looks) == 5);
    CHECK(first_at(plan, "[..#] lasting 3 looks", looks) == 7);
    CHECK(first_at(plan, "[..#] lasting 20ms", looks) == 7);
    CHECK(first_at(plan, "[..#] lasting 4 looks", looks) == -1);
    CHECK(first_at(plan, "fresh [.#.]", looks) == 4); // not in the first look
    CHECK(first_at(plan, "laps >= 2", looks) == 8);
    CHECK(first_at(plan, "travelled > 40mm", looks) == 6);
    CHECK(first_at(plan, "elapsed >= 60ms and not [..#]", looks) == 8);
    CHECK(first_at(plan, "travelled > far or laps == 1 and calm > 20", looks) == 2);
    CHECK(first_at(plan, "not fresh [###] and laps == 2", looks) == 9);
    CHECK(first_at(plan, "amber", looks) == -1);
    CHECK(first_at(plan, "fresh (laps == 2) or [#..]", looks) == 8);
}

TEST_CASE("a probe tells values with their units, is copied with what it has seen, and forgets when told to") {
    const Plan plan = fixtures::compiled(counting);
    ProbeResult made = make_probe(plan, "travelled+ 5mm", "question", true);
    REQUIRE(made.probe.has_value());
    CHECK(made.probe->text() == "travelled + 5mm");
    CHECK_FALSE(made.probe->is_condition());
    Mind mind(plan);
    Answer answer;
    Look look = fixtures::look("###", 0.0);
    mind(look, answer);
    look.way_mm = 31.5;
    look.clock_ms = 12.0;
    mind(look, answer);
    CHECK(made.probe->words(made.probe->value(mind, look)) == "36.5mm");

    Probe lasting = *make_probe(plan, "[###] lasting 2 looks").probe;
    CHECK_FALSE(lasting.holds(mind, look));
    Probe copy = lasting;
    CHECK(lasting.holds(mind, look));
    copy.reset();
    CHECK_FALSE(copy.holds(mind, look));
    CHECK(copy.holds(mind, look));
}

TEST_CASE("what cannot be asked of a plan is refused at its place") {
    CHECK(problem_of("lap > 2") == "1: nothing here is called `lap` (did you mean `laps`?)");
    CHECK(problem_of("travelled > 3").find("3") != std::string::npos);
    CHECK(problem_of("[.#]").substr(0, 2) == "1:");
    CHECK(problem_of("laps").find("expected a condition") != std::string::npos);
    CHECK(problem_of("laps > 1 laps") == "10: expected the end of the condition, found `laps`");
    CHECK(problem_of("heard(gong)") == "1: the plan does not listen to `gong`");
    CHECK(problem_of("amber at nose").find("no colour sensor of that name") != std::string::npos);
    CHECK(problem_of("") == "1: expected a value or a condition here, found the end of the text");
    CHECK(problem_of(std::string(5000, '(')).find("longer than 4096") != std::string::npos);
    CHECK_FALSE(problem_of(std::string(4000, '(')).empty());
    CHECK(problem_of("pid(offset, 1, 0, 0) > 3").find("pid") != std::string::npos);
}

TEST_CASE("a value for a var is of its unit") {
    const Plan plan = fixtures::compiled(counting);
    const Mind mind(plan);
    ProbeResult laps = make_value_for(plan, 0, "laps + 2");
    REQUIRE(laps.probe.has_value());
    CHECK(laps.probe->value(mind, fixtures::look("...")) == 2.0);
    CHECK(make_value_for(plan, 1, "3cm").probe->value(mind, fixtures::look("...")) == 30.0);
    CHECK(make_value_for(plan, 1, "4").problems.at(0).message == "`gone` is a number in mm, `4` is a plain number");
    CHECK_FALSE(make_value_for(plan, 0, "true").probe.has_value());
}

TEST_CASE("every condition that stands in the demo's plans can be asked") {
    const fixtures::FernHouse f;
    for (const char* name : {"left-first", "right-first", "rounds", "plates", "over-the-drain"}) {
        const Plan plan = f.other(name);
        for (const RuleInfo& rule : plan.rules()) {
            if (rule.kind == RuleKind::rule && !rule.is_twin && rule.condition != "else") {
                CAPTURE(rule.condition);
                const ProbeResult made = make_probe(plan, rule.condition);
                CHECK(made.probe.has_value());
            }
        }
    }
}
