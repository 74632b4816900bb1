/// What vet says of habits that hand over to one another, against carrying the plan out.
#include <algorithm>
#include <random>
#include <set>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/vet/vet.hpp"

using namespace vast_turn;

namespace {

const int plans = fixtures::rounds(1500, 700, 60);

/// Three habits over two sensors that move, hand over, do one another (those further down only: nothing may call
/// itself) or leave.
std::vector<std::string> random_blocks(std::mt19937& random) {
    const auto below = [&](unsigned n) { return static_cast<int>(random() % n); };
    std::vector<std::string> blocks;
    const std::vector<std::string> names{"a", "b", "c"};
    for (int h = 0; h < 3; ++h) {
        std::string text = fmt::format("habit {} {{\n", names[static_cast<std::size_t>(h)]);
        for (int r = 0; r < 3; ++r) {
            const char marks[] = {'#', '.', '?'};
            const std::string condition = r == 2 ? "else" : fmt::format("[{}{}]", marks[below(3)], marks[below(3)]);
            const int what = below(6);
            std::string act = fmt::format("ahead({})", 20 + below(40));
            if (what == 0) {
                act = "become " + names[static_cast<std::size_t>(below(3))];
            } else if (what == 1 && h < 2) {
                act = "do " + names[static_cast<std::size_t>(h + 1 + below(static_cast<unsigned>(2 - h)))];
            } else if (what == 2) {
                act = "done";
            }
            text += fmt::format("    {} -> {}\n", condition, act);
        }
        blocks.push_back(text + "}\n");
    }
    return blocks;
}

/// The plan that begins with the block of this number.
std::string plan_from(const std::vector<std::string>& blocks, std::size_t first) {
    std::string text = "plan \"p\"\nsensors 2\n" + blocks[first];
    for (std::size_t i = 0; i < blocks.size(); ++i) {
        text += i == first ? "" : blocks[i];
    }
    return text;
}

/// Where a plan stands: the blocks in hand.
std::vector<int> standing(const Mind& mind) {
    std::vector<int> blocks;
    for (int i = 0; i < mind.machine().depth(); ++i) {
        blocks.push_back(mind.machine().frame(i).block);
    }
    return blocks;
}

/// Whether any row of patterns ever has a look cut off, by trying every pattern wherever the plan can stand.
bool is_ever_cut_off(const Plan& plan) {
    std::vector<Mind> todo{Mind(plan)};
    std::set<std::vector<int>> seen;
    while (!todo.empty()) {
        const Mind from = todo.back();
        todo.pop_back();
        for (const char* marks : {"..", "#.", ".#", "##"}) {
            Mind mind = from;
            Answer answer;
            mind(fixtures::look(marks), answer);
            for (int i = 0; i < answer.events; ++i) {
                if (answer.event[i].kind == EventKind::cut_short) {
                    return true;
                }
            }
            if (!answer.halted && seen.insert(standing(mind)).second) {
                todo.push_back(mind);
            }
        }
    }
    return false;
}

bool says(const VetReport& report, const std::string& code) {
    return std::any_of(report.findings.begin(), report.findings.end(),
                       [&](const Finding& f) { return f.kind->code == code; });
}

VetReport vetted(const std::string& text) { return vet(fixtures::compiled(text)); }

} // namespace

TEST_CASE("vet finds a circle of transfers exactly when some pattern has a look cut off") {
    std::mt19937 random(11);
    int circles = 0;
    int tried = 0;
    while (tried < plans) {
        const std::vector<std::string> blocks = random_blocks(random);
        const std::string text = plan_from(blocks, 0);
        const Compiled compiled = compile_plan(text, "p");
        if (!compiled.plan) {
            continue; // a block that calls itself through become
        }
        ++tried;
        const bool happens = is_ever_cut_off(*compiled.plan);
        const bool said = says(vet(*compiled.plan), "hands-in-circle");
        circles += happens ? 1 : 0;
        CHECK_MESSAGE((said || !happens), text);
        // Patterns are not followed from look to look: a circle is said of a habit that only they keep the plan from.
        bool happens_somewhere = happens;
        for (std::size_t i = 1; i < blocks.size() && said && !happens_somewhere; ++i) {
            happens_somewhere = is_ever_cut_off(fixtures::compiled(plan_from(blocks, i)));
        }
        CHECK_MESSAGE((happens_somewhere || !said), text);
    }
    CHECK(circles > plans / 20);
    MESSAGE(plans << " plans, " << circles << " with a look that is cut off");
}

TEST_CASE("circles: conditions that exclude one another, news, clocks and vars are no circle") {
    const auto circle = [](const std::string& one, const std::string& other, const std::string& acts = "") {
        return says(vetted(fmt::format(
                        "plan \"p\"\nsensors 2\nmarkers amber\nvar n = 0\n"
                        "habit a {{\n    {} -> {}become b\n    else -> ahead(40)\n}}\n"
                        "habit b {{\n    {} -> become a\n    n > 2 or amber -> still\n    else -> ahead(30)\n}}\n",
                        one, acts, other)),
                    "hands-in-circle");
    };
    CHECK(circle("[#?]", "[?#]"));
    CHECK_FALSE(circle("[#?]", "[.?]"));
    CHECK(circle("range < 140mm", "range < 90mm"));
    CHECK_FALSE(circle("range < 90mm", "range > 140mm"));
    CHECK(circle("amber", "not button"));
    CHECK_FALSE(circle("fresh amber", "[??]"));
    CHECK_FALSE(circle("elapsed > 40ms", "[??]"));
    CHECK_FALSE(circle("[??]", "looks > 3 looks"));
    CHECK_FALSE(circle("n < 1", "[??]", "set n = 2, "));
    CHECK(circle("[##] lasting 3 looks", "[##]"));
}

TEST_CASE("ways out: done, become, halt, a guard of the caller or of the plan; through an errand that halts") {
    const auto stuck = [](const std::string& head, const std::string& in_caller, const std::string& in_habit,
                          const std::string& more = "") {
        return says(
            vetted(fmt::format("plan \"p\"\nsensors 2\n{}\nhabit a {{\n{}    [##] -> do b\n    else -> ahead(40)\n}}\n"
                               "habit b {{\n{}    else -> ahead(30)\n}}\n{}",
                               head, in_caller, in_habit, more)),
            "no-way-out");
    };
    CHECK(stuck("", "", ""));
    CHECK_FALSE(stuck("", "", "    [..] -> done\n"));
    CHECK_FALSE(stuck("", "", "    [..] -> become c\n", "habit c {\n    else -> still\n}\n"));
    CHECK_FALSE(stuck("", "", "    guard [..] -> done\n"));
    CHECK_FALSE(stuck("", "    guard [..] -> halt\n", ""));
    CHECK_FALSE(stuck("guard button -> done\n", "", ""));
    CHECK(stuck("guard button -> hold\n", "", ""));
    CHECK(stuck("", "", "    [..] -> do c\n", "errand c {\n    ahead(30) over 40mm\n}\n"));
    CHECK_FALSE(stuck("", "", "    [..] -> do c\n", "errand c {\n    ahead(30) over 40mm\n    halt\n}\n"));
}
