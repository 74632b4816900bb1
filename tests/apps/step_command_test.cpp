/// `vturn step`: sessions by scripts and by keys.

#include <algorithm>
#include <fstream>
#include <sstream>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/terminal.hpp"

namespace {

using fixtures::call_vturn;
using fixtures::Called;
using fixtures::Folder;

const std::string house = "data/fern-house/";

/// A session over the fern house by these commands.
Called session(const Folder& folder, const std::string& commands, const std::vector<std::string>& more = {}) {
    const std::string script = folder.file("session.steps");
    std::ofstream(script) << commands;
    std::vector<std::string> call = {
        "step", house + "fern-house.course.toml", house + "sprig-2.robot.toml", house + "left-first.plan", "--script",
        script};
    call.insert(call.end(), more.begin(), more.end());
    return call_vturn(call);
}

std::string text_of(const std::string& path) {
    std::ostringstream out;
    out << std::ifstream(path, std::ios::binary).rdbuf();
    return out.str();
}

/// The line behind a command that is told.
std::string after(const std::string& out, const std::string& command) {
    const std::size_t at = out.find("> " + command + "\n");
    REQUIRE_MESSAGE(at != std::string::npos, out);
    const std::size_t from = at + command.size() + 3;
    return out.substr(from, out.find('\n', from) - from);
}

} // namespace

TEST_CASE("step: looks, times, places, lines and conditions are gone to, and back again") {
    const Folder folder;
    const Called told = session(folder, "# a session\n\nto place \"sharp bend\"\non 3\nback 2\nto 1.2s\nto line 10\n"
                                        "back to stop\nto look 5\nto start\nto travelled > 300mm\nto [##]\nto end\n");
    CHECK(told.err.empty());
    REQUIRE(told.status == 0);
    CHECK(told.out.find("look 1 at 0.000 s, 186,790 mm") == 0);
    CHECK(after(told.out, "to place \"sharp bend\"").find("look 266 at 2.650 s") == 0);
    CHECK(after(told.out, "on 3").find("look 269 ") == 0);
    CHECK(after(told.out, "back 2").find("look 267 ") == 0);
    CHECK(after(told.out, "to 1.2s").find("look 121 at 1.200 s") == 0);
    CHECK(after(told.out, "to line 10").find(" line 10: [?#] -> wheels(cruise, inside)") != std::string::npos);
    CHECK(after(told.out, "back to stop").find("look 121 at 1.200 s") == 0);
    CHECK(after(told.out, "to look 5").find("look 5 at 0.040 s") == 0);
    CHECK(after(told.out, "to [##]").find(": [##] ") != std::string::npos);
    CHECK(after(told.out, "to end").find("ended at 8.260 s, 313,280 mm: halt") == 0);
}

TEST_CASE("step: a branch goes back to where its run stood before it parted") {
    const Folder folder;
    const Called told = session(folder, "to 1.2s\nto 2.4s\nbranch other\nback to stop\n");
    CHECK(after(told.out, "back to stop").find("other: look 121 at 1.200 s") == 0);
}

TEST_CASE("step: stops are kept and dropped, and what never comes is said") {
    const Folder folder;
    const Called told = session(folder, "stop place fork\nstop when [#.] and travelled > 900mm\nstops\ngo\ngo\ndrop 2\n"
                                        "go\nto start\nto place \"dock\"\ndrop 1\nstops\n");
    CHECK(told.err.empty());
    CHECK(told.out.find("stop 2: [#.] and travelled > 900mm\n> stops\nstop 1: place \"fork\"\nstop 2:") !=
          std::string::npos);
    CHECK(told.out.find("> go\nstop 1: place \"fork\"\nlook ") != std::string::npos);
    CHECK(told.out.find("> go\nstop 2: [#.] and travelled > 900mm\nlook ") != std::string::npos);
    CHECK(told.out.find("> go\nended at ") != std::string::npos);
    CHECK(after(told.out, "to place \"dock\"") == "it never came to place \"dock\"");
    CHECK(told.out.find("no stop is kept") != std::string::npos);
}

TEST_CASE("step: what if, by branches that are told beside each other") {
    const Folder folder;
    const Called told =
        session(folder,
                "to 4.1s\nbranch right\ninstead plan data/fern-house/right-first.plan\nto end\nto look 300\n"
                "branch blocked\ninstead thing crate at 715,470 size 60x30\nto end\ntake trunk\nbranch pushed\n"
                "instead answer 47 -47\ninstead reading 2 0.83\nbranch other-day\ninstead day 7\nbranches\n"
                "beside right\ntake right\nbeside blocked\n",
                {"--variation", house + "ordinary.days.toml"});
    CHECK(told.err.empty());
    REQUIRE(told.status == 0);
    CHECK(told.out.find("blocked: ended at ") != std::string::npos);
    CHECK(told.out.find("it touched \"crate\"") != std::string::npos);
    CHECK(after(told.out, "instead answer 47 -47").find("; 47, -47 %") != std::string::npos);
    CHECK(after(told.out, "instead reading 2 0.83").find(": [.#] line 10: ") != std::string::npos);
    CHECK(told.out.find("  right, from trunk at look 411: at look 300") != std::string::npos);
    CHECK(told.out.find("* other-day, from pushed at look 411: at look 411") != std::string::npos);
    CHECK(after(told.out, "beside right").find("they part at look 4") == 0);
    CHECK(told.out.find("right: halt at 8.43 s, 1167,284 mm after 1349 mm: its decision logic said halt; by sharp bend "
                        "-> fork -> dock") != std::string::npos);
    CHECK(told.out.find("10 mm apart at ") != std::string::npos);
}

TEST_CASE("step: a look is shown in full: course, readings, rules, clocks, what is under way") {
    const Folder folder;
    const std::string script = folder.file("show.steps");
    std::ofstream(script) << "to block take\non 9\nshow\ninstead answer 12 13\nshow\ndraw " << folder.file("look.png")
                          << "\ndraw " << folder.file("look.svg") << "\n";
    const Called told = call_vturn({"step", house + "glass-wing.course.toml", house + "sprig-5.robot.toml",
                                    house + "rounds.plan", "--script", script});
    CHECK(told.err.empty());
    REQUIRE(told.status == 0);
    for (const char* part : {" |", "####", "aaaaaaa", "  1 [", "counts", "  goes on   line 31: ahead(slow) has come",
                             "  acts      line 31: ahead(slow) over 79mm", "  clocks    take, way left: ", " of 79mm",
                             "  motors    ", "  instead   left 12 %, right 13 %"}) {
        CAPTURE(part);
        CHECK(told.out.find(part) != std::string::npos);
    }
    CHECK(text_of(folder.file("look.png")).substr(1, 3) == "PNG");
    CHECK(text_of(folder.file("look.svg")).find("<svg") != std::string::npos);
    CHECK(call_vturn({"step", house + "glass-wing.course.toml", house + "sprig-5.robot.toml", house + "rounds.plan",
                      "--script", script, "-o", folder.file("end.svg")})
              .status == 0);
    CHECK((text_of(folder.file("end.svg")) == text_of(folder.file("look.svg")))); // too much to print
}

TEST_CASE("step: vars, what is heard and told") {
    const Folder folder;
    const std::string plan = folder.file("told.plan");
    std::ofstream(plan) << "plan \"told\"\nsensors 3\nmarkers amber\nvar laps = 0\nvar far = 20mm\nhabit follow {\n"
                           "  laps > 4 -> halt\n  heard(bell) -> wheels(3, 3)\n  amber -> wheels(4, 4)\n"
                           "  button -> wheels(5, 5)\n  range < far -> wheels(6, 6)\n  else -> ahead(30)\n}\n";
    const std::string script = folder.file("told.steps");
    std::ofstream(script) << "on 3\ninstead marker amber\ninstead hears bell\non\ninstead button\non 2\n"
                             "instead range 65mm\ninstead var far far * 3 + 1cm\ninstead var laps laps + 2\n"
                             "instead var laps laps + 3\nto end\n";
    const Called told = call_vturn({"step", house + "turns.course.toml", house + "sprig-3.robot.toml", plan, "--script",
                                    script, "--limit-s", "2"});
    CHECK(told.err.empty());
    REQUIRE(told.status == 0);
    CHECK(after(told.out, "instead marker amber").find("; 4, 4 %") != std::string::npos);
    CHECK(after(told.out, "instead hears bell").find("; 3, 3 %") != std::string::npos);
    CHECK(after(told.out, "on").find("; 30, 30 %") != std::string::npos);
    CHECK(after(told.out, "instead button").find("; 5, 5 %") != std::string::npos);
    CHECK(after(told.out, "on 2").find("; 30, 30 %") != std::string::npos);
    CHECK(after(told.out, "instead range 65mm").find("; 30, 30 %") != std::string::npos);
    CHECK(after(told.out, "instead var far far * 3 + 1cm").find("; 6, 6 %") != std::string::npos); // 70mm
    CHECK(after(told.out, "instead var laps laps + 2").find("halt") == std::string::npos);
    CHECK(after(told.out, "instead var laps laps + 3").find(", halt") != std::string::npos);
    CHECK(after(told.out, "to end").find("ended at 0.0") == 0);
}

TEST_CASE("step: a saved session is told again byte for byte") {
    const Folder folder;
    const std::string saved = folder.file("kept.steps");
    const std::string commands = "to 2.5s\nbranch b\ninstead answer 40 10\nto end\nbeside trunk\nstop line 9\n"
                                 "take trunk\ngo\nshow\n";
    const Called first = session(folder, commands + "save " + saved + "\n");
    REQUIRE(first.status == 0);
    CHECK(text_of(saved).find("# vturn step data/fern-house/fern-house.course.toml") == 0);
    const Called again = call_vturn({"step", house + "fern-house.course.toml", house + "sprig-2.robot.toml",
                                     house + "left-first.plan", "--script", saved});
    CHECK(again.out + "> save " + saved + "\n" == first.out);
}

TEST_CASE("step: what cannot be done is refused at its place, and nothing is changed") {
    const Folder folder;
    const auto refused = [&](const std::string& command, const std::string& message, int column) {
        CAPTURE(command);
        const Called told = session(folder, "to 1.0s\n" + command + "\n");
        CHECK(told.status == 2);
        CHECK(told.err.find("session.steps:2:" + std::to_string(column) + ": error: ") != std::string::npos);
        CHECK_MESSAGE(told.err.find(message) != std::string::npos, told.err);
        CHECK(told.err.find("  to do: ") != std::string::npos);
    };
    refused("goo", "there is no command `goo` (did you mean `go`?)", 1);
    refused("on 0", "how many looks is a whole number from 1", 4);
    refused("on x", "expected how many looks, found `x`", 4);
    refused("on 2 3", "expected the end of the line after on N, found `3`", 6);
    refused("to line 5", "no rule, guard or item stands at line 5", 9);
    refused("to block folow", "did you mean `follow`?", 10);
    refused("to place dok", "did you mean `dock`?", 10);
    refused("to place \"dock", "the closing quote is missing", 10);
    refused("to junction x", "the course has no junction \"x\"", 13);
    refused("to", "expected what to stop at", 3);
    refused("to travelld > 3mm", "nothing here is called `travelld`", 4);
    refused("stop when [..] and laps > 2", "nothing here is called `laps`", 20);
    refused("drop 1", "there is no stop 1", 6);
    refused("take x", "there is no branch \"x\"", 6);
    refused("beside trunk", "that is the branch in hand", 8);
    refused("branch trunk", "there is a branch \"trunk\" already", 8);
    refused("instead", "expected what is otherwise", 8);
    refused("instead anser 3 4", "did you mean `answer`?", 9);
    refused("instead answer 3", "expected the power of the right motor", 17);
    refused("instead reading 3 0.5", "there is no sensor 3", 17);
    refused("instead reading 1 1.5", "a reading is 0 (floor) to 1 (line)", 19);
    refused("instead var laps 3", "the plan knows no var `laps`", 13);
    refused("instead plan data/fern-house/rounds.plan", "is written for 5 line sensors", 14);
    refused("instead plan data/no.plan", "cannot be read", 14);
    refused("instead thing can at 3,4 size 0x3", "a size above 0", 31);
    refused("instead thing can at 3;4", "expected 410,220, found `3;4`", 22);
    refused("instead day x", "expected the number of a day", 13);
    refused("draw look.bmp", "", 6);
    refused("save data/fern-house/left-first.plan", "", 6);
    CHECK(session(folder, "to end\non\n").err.find("the run is over") != std::string::npos);
    CHECK(session(folder, "back\n").err.find("it stands at the first look") != std::string::npos);
    CHECK(session(folder, "to end\ninstead day 3\n").err.find("the run is over") != std::string::npos);
    const Called none = call_vturn({"step", house + "fern-house.course.toml", house + "sprig-2.robot.toml",
                                    house + "left-first.plan", "--script", folder.file("none")});
    CHECK(none.status == 2);
    CHECK(none.err.find("cannot be read") != std::string::npos);
    CHECK(call_vturn({"step", house + "fern-house.course.toml", house + "sprig-2.robot.toml", house + "left-first.plan",
                      "--script", folder.path()})
              .status == 2);
    CHECK(session(folder, "leave\nrubbish\n").status == 0);
    CHECK(session(folder, "to " + std::string(300'000, 'a')).err.find("at most 4096 characters") != std::string::npos);
    std::string many;
    for (int i = 0; i < 100'001; ++i) {
        many += "stops\n";
    }
    CHECK(session(folder, many).err.find("at most 100,000 commands") != std::string::npos);
    CHECK(session(folder, std::string("to \0x\n", 6) + std::string(100000, 'a') + "\n").status == 2);
}

TEST_CASE("step: by keys in a terminal") {
    fixtures::Terminal terminal({fixtures::built("apps/vturn/vturn"), "step", house + "fern-house.course.toml",
                                 house + "sprig-2.robot.toml", house + "left-first.plan"},
                                40, 130);
    REQUIRE(terminal.shows("arrows: 1 look on or back"));
    terminal.type("\033OC"); // right
    CHECK(terminal.shows("> on"));
    terminal.type("\033[6~"); // page down
    CHECK(terminal.shows("25"));
    terminal.type(":to place fork\n");
    CHECK(terminal.shows("place fork"));
    terminal.type("b"); // back to where it stood
    CHECK(terminal.shows("back to stop"));
    terminal.type("\033OH:to lin 9\n"); // home, what there is not
    CHECK(terminal.shows("to lin 9"));
    CHECK(terminal.shows("expected the end of the condition, found `9`"));
    terminal.type("q");
    CHECK(terminal.ended() == 0);
    // Behind the view, which is drawn in pieces.
    CHECK(terminal.wrote().find("look 1 at 0.000 s, ", terminal.wrote().find("to lin 9")) != std::string::npos);
}
