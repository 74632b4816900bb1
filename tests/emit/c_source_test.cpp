/// Plans as C against the runtime: compiled by the system's C compiler, every look of every plan must agree.
#include <filesystem>
#include <set>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "plan/reference/model.hpp"
#include "support/c_program.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/formats/read/plan_file.hpp"

using namespace vast_turn;
using runtime::NumberKind;

namespace {

bool same(const Answer& a, const Answer& b, bool lean) {
    bool alike = a.left_pct == b.left_pct && a.right_pct == b.right_pct && a.halted == b.halted &&
                 (lean || (a.rule == b.rule && a.block == b.block)) && a.events == b.events;
    for (int i = 0; alike && i < a.events; ++i) {
        alike = a.event[i].kind == b.event[i].kind && a.event[i].what == b.event[i].what &&
                (a.event[i].kind != EventKind::tell || a.event[i].value == b.event[i].value);
    }
    return alike;
}

std::string in_words(const Answer& a) {
    std::string text = fmt::format("{} {}{} rule {} block {}", a.left_pct, a.right_pct, a.halted ? " halted" : "",
                                   a.rule.index(), a.block);
    for (int i = 0; i < a.events; ++i) {
        text += fmt::format(", {} {} {}", event_name(a.event[i].kind), a.event[i].what, a.event[i].value);
    }
    return text;
}

/// Looks at all plans with the same looks as both, and notes the kinds of events.
void compare(const std::vector<Plan>& plans, const std::vector<std::uint32_t>& seeds, int looks, NumberKind numbers,
             std::set<EventKind>& seen, const std::string& flags = "-O0", bool lean = false) {
    fixtures::CPrograms programs(plans, numbers, flags, lean);
    for (std::size_t n = 0; n < plans.size(); ++n) {
        CAPTURE(seeds[n]);
        CAPTURE(plans[n].name());
        Mind mind(plans[n], numbers);
        reference::Looks script(seeds[n], plans[n].sensors());
        for (int i = 0; i < looks; ++i) {
            CAPTURE(i);
            const Look& in = script.next(plans[n].places(), plans[n].heard());
            Answer expected;
            Answer answer;
            mind(in, expected);
            programs.look(n, in, answer);
            REQUIRE_MESSAGE(same(expected, answer, lean), in_words(expected), " but in C ", in_words(answer));
            for (int e = 0; e < expected.events; ++e) {
                seen.insert(expected.event[e].kind);
            }
            if (expected.halted && i % 7 == 0) { // on from the start again
                mind = Mind(plans[n], numbers);
                programs.reset(n);
            }
        }
    }
}

/// Random plans by their seeds, some at a time, with one kind of numbers.
void compare_random(NumberKind numbers, std::set<EventKind>& seen, bool lean = false) {
    const auto plans = static_cast<std::uint32_t>(fixtures::rounds(2000, 20, lean ? 5 : 12));
    const int looks = fixtures::rounds(2500, 600, 200);
    constexpr std::uint32_t at_once = 20;
    for (std::uint32_t first = 1; first <= plans; first += at_once) {
        std::vector<Plan> some;
        std::vector<std::uint32_t> seeds;
        for (std::uint32_t seed = first; seed < first + at_once && seed <= plans; ++seed) {
            some.push_back(fixtures::compiled(reference::written(reference::make(seed))));
            seeds.push_back(seed);
        }
        compare(some, seeds, looks, numbers, seen, "-O0", lean);
    }
}

} // namespace

TEST_CASE(
    "random plans over the whole language say in C what they say in the runtime, look for look, as double and float") {
    for (const NumberKind numbers : {NumberKind::binary64, NumberKind::binary32}) {
        CAPTURE(static_cast<int>(numbers));
        std::set<EventKind> seen;
        compare_random(numbers, seen);
        CHECK(seen.contains(EventKind::tell));
        CHECK(seen.contains(EventKind::unanswered));
        CHECK(seen.contains(EventKind::light));
    }
}

TEST_CASE("lean programs say the same as the runtime, but for the rule that acted") {
    std::set<EventKind> seen;
    compare_random(NumberKind::binary32, seen, true);
    std::vector<Plan> plans;
    for (const auto& entry : std::filesystem::directory_iterator("data/fern-house/plans")) {
        const std::string name = entry.path().stem().string();
        if (fixtures::rounds(1, 0, 0) == 1 || name.find("pid") != std::string::npos || name == "five-table" ||
            name == "wait" || name == "search") {
            plans.push_back(load_plan(entry.path().string()));
        }
    }
    const char* const odd[] = {
        // powers that are left as they were, and no rule for some looks
        "habit go {\n [##] lasting 3 looks -> note(\"both\")\n [#.] -> bend(9, 31)\n [.#] -> keep\n}\n",
        // two PIDs in a look, one whose gain changes, one that grows beyond all bounds
        "var gain = 3\nhabit go {\n [##] -> wheels(pid(offset, 41, 6, 2.2), pid(offset, 30, 1, 0)), set gain = gain + "
        "1\n"
        " [#.] -> pivot(last_side, pid(offset, gain, 2, 1))\n"
        " else -> bend(pid(range * range, 900000000, 900000000, 900000000), 20)\n}\n",
        // one whose value is kept for the next look
        "var steer = 0\nhabit go {\n steer > 4 -> pivot(last_side, 33), track steer = pid(offset, 9, 2, 1)\n"
        " else -> bend(steer, 20), track steer = pid(offset, 7, 0, 3)\n}\n",
        // what lasts longer than a byte counts, and for a time
        "habit go {\n [..] lasting 300 looks -> rotate(last_side, 41)\n [##] lasting 90ms -> halt\n"
        " last_side > 0 -> rotate(-last_side, 27)\n else -> ahead(19)\n}\n",
        // a rule that begins anew, and one that ends the run
        "var met = 2\nhabit go {\n [##] -> set met = met + 1, note(\"both\"), ahead(20)\n"
        " [..] and met > 6 -> sound(end), halt\n else -> light(amber), rotate(last_side, met * 4)\n}\n"};
    for (const char* habit : odd) {
        plans.push_back(fixtures::compiled(fmt::format("plan \"odd {}\"\nsensors 2\n{}", plans.size(), habit)));
    }
    std::vector<std::uint32_t> seeds(plans.size(), 11);
    for (const NumberKind numbers : {NumberKind::binary64, NumberKind::binary32}) {
        compare(plans, seeds, fixtures::rounds(10000, 2000, 500), numbers, seen, "-O0", true);
    }
    CHECK(seen.contains(EventKind::note));
    CHECK(seen.contains(EventKind::unanswered));
    CHECK(seen.contains(EventKind::sound));
}

TEST_CASE("float decides otherwise than double where it matters, so the comparison of them tells something") {
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "offset * 3 == 0.3 -> ahead(40)\nelse -> ahead(20)"));
    Mind precise(plan);
    Mind coarse(plan, NumberKind::binary32);
    Look look = fixtures::look("#.");
    look.offset = 0.1;
    Answer a;
    Answer b;
    precise(look, a);
    coarse(look, b);
    CHECK(a.left_pct == 20.0);
    CHECK(b.left_pct == 40.0);
}

TEST_CASE("the model plans say in C what they say in the runtime, look for look") {
    std::vector<Plan> plans;
    std::vector<std::uint32_t> seeds;
    for (const auto& entry : std::filesystem::directory_iterator("data/fern-house/plans")) {
        if (fixtures::sanitized() && plans.size() >= 8) { // each is compiled, which takes longest
            break;
        }
        plans.push_back(load_plan(entry.path().string()));
        seeds.push_back(static_cast<std::uint32_t>(plans.size()));
    }
    for (const char* name : {"rounds", "left-first", "gentle", "over-the-drain", "plates"}) {
        plans.push_back(load_plan(fmt::format("data/fern-house/{}.plan", name)));
        seeds.push_back(static_cast<std::uint32_t>(plans.size()));
    }
    CHECK(plans.size() >= (fixtures::sanitized() ? 13 : 30));
    std::set<EventKind> seen;
    for (const NumberKind numbers : {NumberKind::binary64, NumberKind::binary32}) {
        compare(plans, seeds, fixtures::rounds(10000, 2000, 500), numbers, seen);
    }
    CHECK(seen.contains(EventKind::note));
}

TEST_CASE("what the state needs on a computer is what its compiler says") {
    std::vector<Plan> plans;
    for (const char* name : {"rounds", "plans/five-pid", "plans/search", "plans/wait", "plans/laps"}) {
        plans.push_back(load_plan(fmt::format("data/fern-house/{}.plan", name)));
    }
    for (const NumberKind numbers : {NumberKind::binary64, NumberKind::binary32}) {
        const fixtures::CPrograms programs(plans, numbers);
        for (std::size_t i = 0; i < plans.size(); ++i) {
            CAPTURE(plans[i].name());
            const CSource made = c_source(plans[i], {.numbers = numbers, .name = {}});
            CHECK(made.state_bytes[static_cast<std::size_t>(ChipKind::bits_64)] == programs.state_bytes(i));
        }
    }
}

TEST_CASE("a ramp that an item gives to the block it does goes along with that item") {
    const Plan plan = fixtures::compiled("plan \"ramp\"\nsensors 2\nerrand go {\n    do leg(ramp(20, 60)) over 40mm\n"
                                         "    do leg(ramp(60, 25)) over 300ms\n    halt\n}\n"
                                         "habit leg(power) {\n    else -> ahead(power)\n}\n");
    std::set<EventKind> seen;
    compare({plan}, {3}, 300, NumberKind::binary64, seen);
    compare({plan}, {3}, 300, NumberKind::binary32, seen);
}

TEST_CASE("a habit that acts alone is exported with blocks beside it that nothing comes to") {
    const char* const plan = "plan \"alone\"\nsensors 2\nhabit go {\n    [##] -> note(\"on\"), ahead(31)\n"
                             "    [#.] -> bend(9, 31)\n}\n"
                             "habit other(power) {\n    else -> ahead(power)\n}\n"
                             "errand never {\n    do other(20) over 90mm\n}\n";
    std::set<EventKind> seen;
    for (const NumberKind numbers : {NumberKind::binary64, NumberKind::binary32}) {
        compare({fixtures::compiled(plan)}, {7}, 400, numbers, seen);
    }
    CHECK(seen.count(EventKind::note) == 1);
    CHECK(seen.count(EventKind::unanswered) == 1);
}

TEST_CASE("conditions that never hold are exported so that compilers take them") {
    const char* const plan = "plan \"never\"\nsensors 3\nmarkers amber\nhabit go {\n"
                             "    [#..] and ([.##] or ([.#.] and [##.])) -> halt\n"
                             "    amber and not amber -> halt\n    else -> ahead(31)\n}\n";
    std::set<EventKind> seen;
    compare({fixtures::compiled(plan)}, {7}, 200, NumberKind::binary32, seen,
            "-Os -Wlogical-op -Wno-unknown-warning-option");
}

TEST_CASE("names that C has for itself, that it cannot have, and that would stand for two") {
    const Plan plan =
        fixtures::compiled("plan \"int \xC3\xA9 /* \\ */\"\nsensors 2\nvar register = 0\nvar default = 1\n"
                           "habit while {\n    [#?] -> note(\"a `quoted` ?"
                           "?/ % @ $ \xC3\xA9 */\"), do int\n"
                           "    [.#] -> set register = default, become WHILE\n    else -> still\n}\n"
                           "habit WHILE {\n    [##] -> become while\n    else -> ahead(30)\n}\n"
                           "errand int {\n    ahead(30) over 200ms\n}\n");
    std::set<EventKind> seen;
    compare({plan}, {5}, 400, NumberKind::binary32, seen);
    CHECK(seen.contains(EventKind::note));
    CHECK(c_source(plan).name == "int_");
    CHECK(c_source(plan, {.name = "9 lives"}).name == "plan_9_lives");
    CHECK(c_source(plan, {.name = "\xC3\xA9"}).name == "plan__");
    CHECK(c_source(plan).source.find("return \"a `quoted` \\?\\?/ % @ $ \\303\\251 */\";") != std::string::npos);
}
