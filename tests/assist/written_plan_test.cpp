/// What an editor asks of a plan's text: names, words, what may stand where; broken texts too.
#include <algorithm>
#include <random>
#include <set>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/assist/word_help.hpp"
#include "vast_turn/assist/written_plan.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/plan/text/language.hpp"

using namespace vast_turn;

namespace {

const std::string rounds_text = read_file("data/fern-house/rounds.plan");

std::string text_of(const WrittenPlan& plan, TextSpan span) {
    return plan.text().substr(span.from, span.to - span.from);
}

/// The place of `at` in a text that has it once, so many letters into it.
std::size_t place_of(const std::string& text, const std::string& at, std::size_t into = 0) {
    const std::size_t found = text.find(at);
    REQUIRE(found != std::string::npos);
    return found + into;
}

std::set<std::string> proposed(const std::string& text) {
    const std::size_t at = text.find('@');
    REQUIRE(at != std::string::npos);
    std::set<std::string> words;
    for (const Proposal& one : WrittenPlan(text.substr(0, at) + text.substr(at + 1), "p").proposals(at, nullptr)) {
        words.insert(one.text);
    }
    return words;
}

bool has_all(const std::set<std::string>& words, const std::vector<std::string>& wanted) {
    return std::all_of(wanted.begin(), wanted.end(), [&](const std::string& word) { return words.count(word) == 1; });
}

} // namespace

TEST_CASE("every word of the language is explained, with an example that compiles") {
    std::set<std::string> words;
    for (const std::string& word : language_words()) {
        words.insert(word);
    }
    for (const WordHelp& help : word_helps()) {
        CAPTURE(help.word);
        CHECK(words.erase(std::string(help.word)) == 1);
        CHECK(find_word_help(help.word) == &help);
        CHECK(help.usage.find(help.word) != std::string_view::npos);
        const std::string example(help.example);
        const bool heads_a_plan =
            std::set<std::string_view>{"markers", "plan", "sensors", "weights"}.contains(help.word);
        CHECK((example.find(help.word) == std::string::npos) == heads_a_plan);
        const auto stands = [&](WordHelp::Where where) {
            return help.where == where ? "    " + example + "\n" : std::string();
        };
        const std::string plan = "plan \"x\"\nsensors 3\nweights 1, 0, -1\nmarkers amber, teal\nvar laps = 0\n" +
                                 stands(WordHelp::Where::plan) + "habit first {\n" + stands(WordHelp::Where::rule) +
                                 "    [#.#] -> do regain\n    [###] -> do plain\n    else -> ahead(30)\n}\n"
                                 "habit plain {\n    [.#.] -> done\n    else -> ahead(31)\n}\n"
                                 "errand regain {\n    ahead(30) over 20mm\n" +
                                 stands(WordHelp::Where::item) + "}\n";
        const std::string problems = fixtures::problems_of(plan);
        CAPTURE(problems);
        CHECK(problems.find("error") == std::string::npos);
    }
    CHECK(words.empty());
    CHECK(find_word_help("nonsense") == nullptr);
}

TEST_CASE("names are found where they are meant, and where they are told") {
    const WrittenPlan plan(rounds_text, "rounds.plan");
    CHECK(plan.plan());
    const NamedThing* take = plan.name_at(place_of(rounds_text, "take(right)", 2));
    REQUIRE(take != nullptr);
    CHECK(take->kind == NameKind::errand);
    CHECK(take->uses.size() == 3);
    CHECK(take->declared->from == place_of(rounds_text, "take(way)"));
    const NamedThing* way = plan.name_at(place_of(rounds_text, "way, 36") + 3); // right behind it
    REQUIRE(way != nullptr);
    CHECK(way->kind == NameKind::parameter);
    CHECK(way->uses.size() == 2);
    CHECK(plan.name_at(place_of(rounds_text, "amber           ->"))->uses.size() == 2); // not the note's text
    CHECK(plan.name_at(place_of(rounds_text, "rotate")) == nullptr);
    CHECK(plan.blocks().size() == 3);
    CHECK(text_of(plan, plan.blocks()[2].whole).ends_with("}"));
    for (const NamedThing& thing : plan.names()) {
        for (const TextSpan& use : thing.uses) {
            CHECK(text_of(plan, use) == thing.name);
        }
    }
}

TEST_CASE("one name may stand for a parameter here and another there, and for what the robot gives") {
    const std::string text = "plan \"x\"\nsensors 1\nmarkers amber\nlet side = 3\n"
                             "habit a { amber at side -> do b(left), light(side)\n else -> do c(2) }\n"
                             "errand b(n) { rotate(n, 30) over 1 look, tell(side, side) }\n"
                             "errand c(n) { ahead(n) over 1 look }\n";
    const WrittenPlan plan(text, "p");
    const auto count = [&](NameKind kind, const std::string& name) {
        std::size_t uses = 0;
        for (const NamedThing& thing : plan.names()) {
            uses += thing.kind == kind && thing.name == name ? thing.uses.size() : 0;
        }
        return uses;
    };
    CHECK(count(NameKind::let, "side") == 2);
    CHECK(count(NameKind::place, "side") == 1);
    CHECK(count(NameKind::light, "side") == 1);
    CHECK(count(NameKind::device, "side") == 1);
    CHECK(std::count_if(plan.names().begin(), plan.names().end(),
                        [](const NamedThing& one) { return one.name == "n" && one.uses.size() == 2; }) == 2);
    const NamedThing* let = plan.name_at(place_of(text, "side = 3"));
    CHECK(plan.fault_of_name(*let, "wide").empty());
    CHECK(plan.fault_of_name(*let, "amber") == "`amber` is a marker of this plan already");
    CHECK(plan.fault_of_name(*let, "halt") == "`halt` is a word of the language");
    CHECK(plan.fault_of_name(*let, "2nd") ==
          "`2nd` is no name: a name is letters, digits and _, and begins with a letter");
    CHECK_FALSE(plan.fault_of_name(*let, std::string(49, 'a')).empty());
    CHECK_FALSE(plan.fault_of_name(*let, "").empty());
}

TEST_CASE("what may be written depends on where") {
    const std::string head = "plan \"x\"\nsensors 2\nmarkers amber\nlet cruise = 40\nvar laps = 0\n";
    CHECK(has_all(proposed(head + "@"), {"habit", "errand", "guard", "let", "var"}));
    const auto rule = proposed(head + "habit a {\n    fr@\n}\nerrand go { ahead(3) over 1 look }\n");
    CHECK(has_all(rule, {"fresh", "else", "as", "amber", "seen", "laps"}));
    CHECK(rule.count("ahead") == 0);
    CHECK(has_all(proposed(head + "habit a {\n    [##] -> @\n}\n"), {"ahead", "bend", "do", "halt", "note"}));
    CHECK(proposed(head + "habit a {\n    [##] -> do @\n}\nerrand go { ahead(3) over 1 look }\n") ==
          std::set<std::string>{"a", "go"});
    CHECK(proposed(head + "habit a {\n    as @\n}\nerrand go { ahead(3) over 1 look }\n") ==
          std::set<std::string>{"a"});
    CHECK(proposed(head + "habit a {\n    [##] -> set @\n}\n") == std::set<std::string>{"laps"});
    CHECK(proposed(head + "habit a {\n    turned by @ > 3deg\n}\n") ==
          std::set<std::string>{"compass", "gyro", "wheels"});
    CHECK(has_all(proposed(head + "habit a {\n    [##] lasting 3 @\n}\n"), {"looks", "ms"}));
    const auto value = proposed(head + "errand t(way) {\n    rotate(@, 30) over 3deg\n}\n");
    CHECK(has_all(value, {"way", "left", "last_side", "cruise"}));
    CHECK(has_all(proposed(head + "errand t {\n    ahead(3) @\n}\n"), {"over", "till"}));
    CHECK(has_all(proposed(head + "errand t {\n    @\n}\n"), {"ahead", "loop", "if", "do"}));
    for (const char* nothing : {"let @ = 3\n", "habit @ {\n}\n", "habit a {\n    [#@.] -> halt\n}\n",
                                "habit a {\n    [##] -> note(\"a@\")\n}\n", "// @\n"}) {
        CAPTURE(nothing);
        CHECK(proposed(head + nothing).empty());
    }
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    REQUIRE_FALSE(robot.colour_sensors.empty());
    const std::string at_place = head + "habit a {\n    amber at ";
    const auto places = WrittenPlan(at_place, "p").proposals(at_place.size(), &robot);
    REQUIRE_FALSE(places.empty());
    CHECK(places.front().text == robot.colour_sensors.front().name);
}

TEST_CASE("what stands at a place is told: words, names, numbers, rules and what the robot then does") {
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    const WrittenPlan plan(rounds_text, "rounds.plan");
    const auto about = [&](const std::string& at, const Robot* on = nullptr) {
        return plan.about(place_of(rounds_text, at), on);
    };
    const auto says = [](const std::string& text, const std::string& part) {
        return text.find(part) != std::string::npos;
    };
    CHECK(says(about("bend(9"), "a positive turn bends to the left"));
    CHECK(says(about("bend(9"), "- in `follow` for `.##..`: wheels 35 / 53 %\n"));
    CHECK(says(about("bend(9"), "(the twin): wheels 53 / 35 %"));
    CHECK(says(about("bend(9", &robot), "Sprig-5: left, radius "));
    CHECK(says(about("640ms", &robot), fmt::format("640 ms: {:.3g} looks of Sprig-5", std::ceil(640 / robot.look_ms))));
    CHECK(says(about("take(left)"), "`take` begins with `ahead(slow) over 79mm`: wheels 31 / 31 %"));
    CHECK(says(about("slow = 31"), "let; it stands"));
    CHECK(about("The rounds").empty()); // a comment
    const Robot other = load_robot("data/fern-house/sprig-2.robot.toml");
    CHECK_FALSE(says(about("bend(9", &other), "Sprig-2: ")); // it has not these sensors
}

TEST_CASE("the call in whose brackets one writes is told, and which of its values") {
    const auto call = [](const std::string& text) {
        const std::size_t at = text.find('@');
        return WrittenPlan(text.substr(0, at) + text.substr(at + 1), "p").call_at(at);
    };
    const std::string head = "plan \"x\"\nsensors 1\nhabit a {\n    [#] -> ";
    REQUIRE(call(head + "bend(@"));
    CHECK(call(head + "bend(@")->usage == "bend(turn, power)");
    CHECK(call(head + "bend(@")->active == 0);
    CHECK(call(head + "bend(3 * (1 + 2), @")->active == 1);
    CHECK(call(head + "bend(min(1, @), 3)")->usage == "min(a, b)");
    const auto own = call(head + "do turn(left, @)\n}\nerrand turn(way, power) { rotate(way, power) over 3deg }\n");
    REQUIRE(own);
    CHECK(own->usage == "turn(way, power)");
    CHECK(own->arguments.size() == 2);
    CHECK(own->usage.substr(own->arguments[1].from, 5) == "power");
    CHECK_FALSE(call(head + "halt@"));
    CHECK_FALSE(call(head + "bend(1, 2) @"));
}

TEST_CASE("a text that is cut, doubled or spoilt anywhere is answered all the same") {
    std::mt19937 random(4);
    const auto below = [&](std::size_t n) { return n == 0 ? 0 : random() % n; };
    const std::string pool = "{}()[]#.?\"/,->=<\n abz09_@\xC3\xA9\xFF";
    std::string text = rounds_text;
    const int rounds = fixtures::rounds(20000, 1200, 150);
    for (int i = 0; i < rounds; ++i) {
        text = i % 40 == 0 ? rounds_text : text;
        const std::size_t at = below(text.size() + 1);
        switch (below(4)) {
        case 0: text.insert(at, 1, pool[below(pool.size())]); break;
        case 1: text.erase(at, below(12)); break;
        case 2: text.insert(at, text.substr(below(text.size() + 1), below(60))); break;
        default: text = text.substr(0, text.size() - below(30)); break;
        }
        const WrittenPlan plan(text, "p");
        std::size_t end = 0;
        for (const TextMark& mark : plan.marks()) {
            CHECK(mark.span.from >= end);
            CHECK(mark.span.to > mark.span.from);
            end = mark.span.to;
        }
        CHECK(end <= text.size());
        const std::size_t ask = below(text.size() + 1);
        plan.about(ask, nullptr);
        plan.proposals(ask, nullptr);
        plan.call_at(ask);
        if (const NamedThing* thing = plan.name_at(ask)) {
            CHECK_FALSE(thing->uses.empty());
        }
    }
}
