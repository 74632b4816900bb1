/// Commands that come over the serial line to an exported program: it does and answers what the stand-in does.
#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/bench/robot_line.hpp"
#include "vast_turn/bench/stand_in.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/settings/adjustable.hpp"

using fixtures::call_vturn;
using namespace vast_turn;

namespace {

const char* const commands_robot = "data/fern-house/sprig-5.robot.toml";

/// The program reads bytes; a byte 1 among them is a look.
const char* const main_text = R"(
#include <stdio.h>
#include "plan.h"
static uint32_t n;
static uint32_t clock_us(void *whom) { (void)whom; return 12000u * n; }
static void counts(void *whom, uint16_t *to)
{
    int i;
    (void)whom;
    for (i = 0; i < PLAN_SENSORS; ++i) {
        to[i] = (uint16_t)(i == 3 ? 3300 : 830);
    }
    to[2] = 100;
}
static float left_deg(void *whom) { (void)whom; return 1.5f * (float)n; }
static float right_deg(void *whom) { (void)whom; return 1.5f * (float)n; }
static float range_mm(void *whom) { (void)whom; return 1150.0f; }
static uint16_t markers(void *whom) { (void)whom; return n == 3 ? PLAN_SEES_TEAL : 0; }
static float drives;
static void drive(void *whom, const struct plan_outputs *out) { (void)whom; drives = out->left; }
static void put(void *whom, uint8_t byte) { (void)whom; putchar(byte); }
int main(void)
{
    static const struct plan_robot robot = {0, clock_us, counts, left_deg, right_deg, range_mm, markers, drive, 0, put};
    static struct plan_loop loop;
    static struct plan_hearing hearing;
    int c;
    plan_ready(&loop, &robot);
    while ((c = getchar()) != EOF) {
        if (c == 1) {
            plan_step(&loop);
            printf("!drives,%.2f\n", (double)drives);
            ++n;
        } else {
            plan_hear(&loop, &hearing, (uint8_t)c);
        }
    }
    return 0;
}
)";

struct Exported {
    fixtures::Folder folder;
    Robot robot = load_robot(commands_robot);
    std::string calibration = folder.file("sprig-5.calibration.toml");
    std::optional<AdjustablePlan> plan;

    Exported() {
        std::string text = read_file("data/fern-house/rounds.plan");
        for (const auto& [let, range] :
             {std::pair{"let cruise = 44", " // may be 20..70"}, std::pair{"let slow = 31", " // may be 15..50"}}) {
            text.insert(text.find(let) + std::string(let).size(), range);
        }
        write_file(folder.file("rounds.plan"), text);
        plan = adjustable_plan(text, folder.file("rounds.plan"));
        REQUIRE(
            call_vturn({"calibrate", "data/fern-house/sprig-5.bench.csv", "--robot", commands_robot, "-o", calibration})
                .status == 0);
        const auto made =
            call_vturn({"export", folder.file("rounds.plan"), "-o", folder.path(), "--numbers", "float", "--name",
                        "plan", "--robot", commands_robot, "--calibration", calibration, "--settings"});
        CAPTURE(made.err);
        REQUIRE(made.status == 0);
        CHECK(made.out.find("other values of cruise, slow while it runs") != std::string::npos);
        write_file(folder.file("main.c"), main_text);
        const auto built = fixtures::program(fmt::format(
            "cd '{}' && cc -std=c99 -Wall -Wextra -Wconversion -Wshadow -Wpedantic -Werror main.c plan.c -o main",
            folder.path()));
        REQUIRE_MESSAGE(built.status == 0, built.err);
    }

    /// All that it tells when it is given these bytes.
    std::string told(const std::string& bytes) const {
        write_file(folder.file("bytes"), bytes);
        return fixtures::program(fmt::format("(cat '{}' | '{}')", folder.file("bytes"), folder.file("main"))).out;
    }
};

std::string replies(const std::string& bytes, const Robot& robot, const std::optional<Plan>& plan) {
    RobotEar ear(robot, plan);
    std::string words;
    for (const RobotHeard& heard : ear.hears(bytes)) {
        if (const auto* reply = std::get_if<RobotReply>(&heard)) {
            words += (reply->done ? "=" : "?") + reply->words + "\n";
        }
    }
    return words;
}

} // namespace

TEST_CASE("an exported program obeys commands over its line, and answers as the stand-in does") {
    const Exported exported;
    const Course course = load_course("data/fern-house/fern-house.course.toml");
    const Scene scene(course, exported.robot);
    StandInOptions options;
    options.plan = exported.plan->plan;
    StandIn stand_in(scene, options);
    std::string bytes;
    for (const char* command :
         {"motors,off", "motors,on", "tell,text", "tell,short", "tell,nothing", "level,2,900.5,101",
          "level,5,12.25,3000", "use", "set,cruise,38.5", "set,slow,20", "set,slow,27.1250000"}) {
        CAPTURE(command);
        const std::string line = checked_line(command);
        CHECK(replies(exported.told(line), exported.robot, exported.plan->plan) == fmt::format("={}\n", command));
        CHECK(replies(stand_in.hears(line), exported.robot, exported.plan->plan) == fmt::format("={}\n", command));
        bytes += line;
    }
    CHECK(replies(exported.told(bytes), exported.robot, exported.plan->plan).size() > 100); // one after another
    for (const char* command : {"motors,up", "motors,offf", "tell,loud", "level,6,1,2", "level,0,1,2", "level,1.5,1,2",
                                "level,1,x,2", "level,1,1", "set,cruise", "set,cruise,1e9", "set,cruisers,4",
                                "set,fast,4", "fly", "useful", "level,1,99999999999,2"}) {
        CAPTURE(command);
        CHECK(replies(exported.told(checked_line(command)), exported.robot, exported.plan->plan).starts_with("?"));
        CHECK(replies(stand_in.hears(checked_line(command)), exported.robot, exported.plan->plan).starts_with("?"));
    }
    // Garbled, cut, too long, none at all.
    std::string garbled = checked_line("motors,on");
    garbled[2] = 'x';
    CHECK(replies(exported.told(garbled), exported.robot, std::nullopt) == "?its check sum is wrong\n");
    CHECK(exported.told("motors,on\n\n\r\n,\n,0000\n").empty());
    CHECK(exported.told(std::string(100000, 'm') + "\n").empty());
    CHECK(replies(exported.told(std::string(300, 'm') + "\n" + checked_line("use")), exported.robot, std::nullopt) ==
          "=use\n");
}

TEST_CASE("a program whose numbers can be set drives in the place of the plan as it is written" *
          doctest::skip(fixtures::sanitized())) { // the program is not
    const Exported made;
    const auto built =
        fixtures::program(fmt::format("{} -std=c99 -O1 -I'{}' examples/on-the-robot/computer/main.c '{}' -o '{}'",
                                      fixtures::sanitized() ? "clang" : "cc", made.folder.path(),
                                      made.folder.file("plan.c"), made.folder.file("on")));
    REQUIRE_MESSAGE(built.status == 0, built.err);
    const std::string on = "'" + made.folder.file("on") + "'";
    const auto run = [&](const std::string& plan, const std::vector<std::string>& more) {
        std::vector<std::string> call = {"run",           "data/fern-house/glass-wing.course.toml",
                                         commands_robot,  plan,
                                         "--calibration", made.calibration,
                                         "--numbers",     "float"};
        call.insert(call.end(), more.begin(), more.end());
        return call_vturn(call);
    };
    const std::string plan = made.folder.file("rounds.plan");
    const auto there = run(plan, {"--on", on});
    CHECK(there.err == "");
    const auto ends_as = [](const std::string& out) { return out.substr(out.find("  ended"), 60); };
    CHECK(ends_as(there.out) == ends_as(run(plan, {}).out));
    const auto changed = run(plan, {"--set", "cruise=41", "--on", on}); // which nobody told it
    CHECK(changed.status == 2);
    CHECK(changed.err.find("made of another plan") != std::string::npos);
}

TEST_CASE("what is set over the line changes what an exported program drives, and motors that are off stand") {
    const Exported exported;
    const auto powers = [&](const std::string& bytes) {
        RobotEar ear(exported.robot, exported.plan->plan);
        std::string words;
        for (const RobotHeard& heard : ear.hears(exported.told(bytes))) {
            if (const auto* look = std::get_if<LoggedLook>(&heard)) {
                words += fmt::format("{:g} ", *look->left_pct);
            } else if (const auto* says = std::get_if<RobotSays>(&heard)) {
                words += says->kind == "note" ? says->what + " " : "";
            }
        }
        CHECK(ear.count().garbled ==
              (bytes.find("tell,text") != std::string::npos ? std::count(bytes.begin(), bytes.end(), 1) : 0));
        return words;
    };
    const std::string text = checked_line("tell,text");
    // The test's own lines, without check sums, are counted as garbled; looks are not.
    CHECK(powers(text + "\x01" + checked_line("set,cruise,38.5") + "\x01\x01") == "44 38.5 38.5 ");
    CHECK(powers(text + "\x01\x01\x01\x01").find("teal") != std::string::npos); // what the plan says is told live
    const std::string off =
        exported.told("\x01" + checked_line("motors,off") + "\x01" + checked_line("motors,on") + "\x01");
    CHECK(off.find("!drives,92.50") != std::string::npos); // a servo's standing still
    const auto first = off.find("!drives,");
    CHECK(off.find("!drives,92.50") > first);
}

TEST_CASE("a log that was caught as it came over the line is read: what was said in it, and rows that came garbled") {
    const Exported exported;
    std::string told = "starting ...\n" + exported.told(checked_line("tell,text") + std::string(40, '\x01'));
    const auto asked = [&](const std::string& text) {
        write_file(exported.folder.file("caught.csv"), text);
        return call_vturn({"ask", exported.folder.file("rounds.plan"), "--log", exported.folder.file("caught.csv"),
                           "--robot", commands_robot, "--calibration", exported.calibration, "--numbers", "float",
                           "--tolerance-pct", "0.001"});
    };
    const auto all = asked(told);
    CAPTURE(all.err);
    CHECK(all.status == 0);
    CHECK(all.out.find("40 looks") != std::string::npos);
    const std::size_t last_row = told.rfind("\n4"); // a row of the last looks
    told[last_row + 3] = told[last_row + 3] == '9' ? '8' : '9';
    const auto fewer = asked(told);
    CHECK(fewer.out.find("39 looks") != std::string::npos);
    CHECK(fewer.err.find("1 row is garbled, by their check sums, and passed over") != std::string::npos);
}
