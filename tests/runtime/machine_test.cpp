#include "vast_turn/runtime/machine.hpp"

#include <cmath>
#include <limits>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/base/noise.hpp"

using namespace vast_turn;
using fixtures::compiled;
using fixtures::look;
using fixtures::plan_text;

namespace {

Answer ask(Mind& mind, const Look& in) {
    Answer answer;
    mind(in, answer);
    return answer;
}

} // namespace

TEST_CASE("notes are told once when their rule begins to act, again after it was left") {
    const Plan plan = compiled(plan_text(2, "[##] -> note(\"pad\"), ahead(1)\nelse -> still"));
    Mind mind(plan);
    const auto notes = [&](const char* marks) { return static_cast<int>(ask(mind, look(marks)).events); };
    CHECK(notes("##") == 1);
    CHECK(notes("##") == 0);
    CHECK(notes("..") == 0);
    CHECK(notes("##") == 1);
    CHECK(plan.texts() == std::vector<std::string>{"pad"});
}

TEST_CASE("a look that no rule answers keeps the motion and says so with its pattern") {
    Mind mind(compiled(plan_text(2, "[#.] -> ahead(30)")));
    ask(mind, look("#."));
    const Answer answer = ask(mind, look(".#"));
    CHECK(answer.left_pct == 30.0);
    CHECK(answer.rule == no_rule);
    REQUIRE(answer.events == 1);
    CHECK(answer.event[0].kind == EventKind::unanswered);
    CHECK(answer.event[0].what == 2);
}

TEST_CASE("at most sixteen transfers in a look; the chain goes on in the next") {
    Mind mind(compiled("plan \"t\"\nsensors 2\nhabit a {\n clock >= 0ms -> ahead(1), become b\n}\n"
                       "habit b {\n clock >= 0ms -> ahead(2), become a\n}\n"));
    for (int i = 0; i < 3; ++i) {
        const Answer answer = ask(mind, look(".."));
        REQUIRE(answer.events == 1);
        CHECK(answer.event[0].kind == EventKind::cut_short);
        CHECK_FALSE(answer.halted);
    }
}

TEST_CASE("exactly sixteen transfers are made") {
    std::string text = "plan \"t\"\nsensors 1\n";
    for (int i = 0; i < 16; ++i) {
        text += "habit h" + std::to_string(i) + " {\n else -> become h" + std::to_string(i + 1) + "\n}\n";
    }
    Mind mind(compiled(text + "habit h16 {\n else -> ahead(16)\n}\n"));
    const Answer answer = ask(mind, look("."));
    CHECK(answer.events == 0);
    CHECK(answer.left_pct == 16.0);
}

TEST_CASE("more events in a look than there is room for are counted") {
    std::string rule = "else -> ";
    for (int i = 0; i < 40; ++i) {
        rule += "note(\"" + std::to_string(i) + "\"), ";
    }
    Mind mind(compiled(plan_text(1, rule + "ahead(1)")));
    const Answer answer = ask(mind, look("."));
    CHECK(answer.events == look_events);
    CHECK(answer.events_lost == 40 - look_events);
}

TEST_CASE("every arithmetic result is a number: x/0 is 0, overflow stays at the limit, both are counted") {
    Mind mind(compiled(plan_text(
        1,
        "1 / offset == 0 and 1000000000 * 1000000000 * (1 + offset) >= 1000000000 * 1000 -> ahead(7)\nelse -> still")));
    const Answer answer = ask(mind, look("."));
    CHECK(answer.left_pct == 7.0);
    CHECK(mind.machine().faults() >= 1);
    Look odd = look(".");
    odd.offset = std::numeric_limits<double>::quiet_NaN();
    CHECK(std::isfinite(ask(mind, odd).left_pct));
}

TEST_CASE("a copy of a mind goes on by itself") {
    Mind mind(compiled(plan_text(2, "[##] lasting 3 looks -> ahead(3)\nelse -> ahead(1)")));
    ask(mind, look("##"));
    ask(mind, look("##"));
    Mind copy = mind;
    CHECK(ask(copy, look("..")).left_pct == 1.0);
    CHECK(ask(mind, look("##")).left_pct == 3.0);
    CHECK(ask(copy, look("##")).left_pct == 1.0);
    copy = mind;
    CHECK(ask(copy, look("##")).left_pct == 3.0);
}

TEST_CASE("travelled counts the way of the block, never negative") {
    Mind mind(compiled("plan \"t\"\nsensors 1\nhabit a {\n travelled >= 20mm -> become b\n else -> ahead(1)\n}\nhabit "
                       "b {\n travelled >= 5mm -> ahead(3)\n else -> ahead(2)\n}\n"));
    const auto power_at = [&](double way_mm) {
        Look in = look(".");
        in.way_mm = way_mm;
        return ask(mind, in).left_pct;
    };
    CHECK(power_at(3.0) == 1.0);
    CHECK(power_at(22.9) == 1.0);
    CHECK(power_at(23.0) == 2.0);
    CHECK(power_at(27.0) == 2.0);
    CHECK(power_at(18.0) == 3.0);
}

TEST_CASE("random looks never give anything but powers within 100 percent") {
    const Plan plan = compiled(
        plan_text(4, "[#...] mirrored -> bend(pivot_gain * offset / (sensor(1) - sensor(2)), 50)\n"
                     "offset / 0 > -1 and [##..] lasting 2 looks mirrored -> rotate(last_side, 1000 * offset)\n"
                     "[..##] -> wheels(raw(1) * raw(2) * raw(3), -raw(4))\nelse -> keep")
            .insert(22, "let pivot_gain = 300\n"));
    Mind mind(plan);
    for (std::uint64_t i = 0; i < 20'000; ++i) {
        const Draw draw = random_draw(5, Stream::line_sensors, i);
        Look in;
        in.clock_ms = static_cast<double>(i) * 10.0;
        in.sensors = 4;
        in.line_bits = static_cast<std::uint8_t>(draw[0] & 15U);
        in.offset = NormalQuantile::table()(draw[1]);
        for (int k = 0; k < 4; ++k) {
            in.sensor[k] = draw[static_cast<std::size_t>(2 + k)] / 65535.0;
            in.raw[k] = draw[static_cast<std::size_t>(2 + k)] / 64.0;
        }
        const Answer answer = ask(mind, in);
        REQUIRE(std::abs(answer.left_pct) <= 100.0);
        REQUIRE(std::abs(answer.right_pct) <= 100.0);
    }
}
