/// Programs that decide in the place of a plan: they drive as what they are made of, and their faults are told.
#include <filesystem>
#include <sys/stat.h>

#include <doctest/doctest.h>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/wire/other_mind.hpp"

using namespace vast_turn;
using fixtures::call_vturn;

namespace {

const std::string demo_files = "data/fern-house/";

Plan loaded(const std::string& name) { return load_plan(demo_files + name); }

/// A program of a few lines of Python; its path.
std::string python(const fixtures::Folder& folder, const std::string& text) {
    const std::string path = folder.file("program.py");
    write_file(path, "#!/usr/bin/env python3\n" + text);
    ::chmod(path.c_str(), 0755);
    return path;
}

const char* const steers = R"(import sys
print("left_pct,right_pct", flush=True)
names = sys.stdin.readline().strip().split(",")
for row in sys.stdin:
    look = dict(zip(names, row.strip().split(",")))
    turn = {"#.": 20, ".#": -20}.get(look["pattern"], 0)
    print(f"{40 - turn},{40 + turn}", flush=True)
)";

/// The plan's C as a program of this computer.
std::string c_program(const fixtures::Folder& folder, const Plan& plan, const Robot& robot,
                      const std::optional<Calibration>& calibration, runtime::NumberKind numbers) {
    const CSource c = c_source(plan, {.numbers = numbers, .name = "plan", .robot = robot, .calibration = calibration});
    write_file(folder.file("plan.h"), c.header);
    write_file(folder.file("plan.c"), c.source);
    const std::string call =
        fmt::format("{} -std=c99 -O1 -Wall -Wextra -Wconversion -Wshadow -Wpedantic -Werror -I'{}' "
                    "examples/on-the-robot/computer/main.c '{}' -o '{}'",
                    fixtures::sanitized() ? "clang" : "cc", folder.path(), folder.file("plan.c"), folder.file("plan"));
    const fixtures::Called built = fixtures::program(call);
    REQUIRE_MESSAGE(built.status == 0, built.err);
    return folder.file("plan");
}

/// Everything that a run was, look by look.
std::string written(const Run& run) {
    std::string text = fmt::format("{} {} {} {}\n", run.ended_because, run.time_s, run.way_mm, run.turned_deg);
    for (const LookRecord& look : run.looks) {
        text += fmt::format("{} {} {} {} {}\n", look.t_s, look.left_pct, look.right_pct, look.rule.index(), look.block);
    }
    for (const RunEvent& event : run.events) {
        text +=
            fmt::format("{} {} {} {}\n", event.t_s, event_name(event.event.kind), event.event.what, event.event.value);
    }
    return text;
}

struct DrivenBy {
    const char* plan;
    const char* robot;
    const char* course;
};

} // namespace

TEST_CASE("a program in any language drives the robot as the same code in process does") {
    const fixtures::Folder folder;
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "else -> ahead(40)"));
    const Course course = load_course(demo_files + "aisle.course.toml");
    const Robot robot = load_robot(demo_files + "sprig-2.robot.toml");
    const Scene scene(course, robot);
    OtherMind other({.words = {python(folder, steers)}}, plan, robot);
    const Run by_program = drive(scene, plan, Decide(other), {.time_limit_s = 6.0});
    const Decide same = [](const Look& look, Answer& answer) {
        const double turn = look.line_bits == 1 ? 20.0 : (look.line_bits == 2 ? -20.0 : 0.0);
        answer.left_pct = 40.0 - turn;
        answer.right_pct = 40.0 + turn;
    };
    const Run in_process = drive(scene, plan, same, {.time_limit_s = 6.0});
    REQUIRE(by_program.looks.size() == in_process.looks.size());
    CHECK(by_program.looks.size() > 100);
    for (std::size_t i = 0; i < in_process.looks.size(); ++i) {
        REQUIRE(by_program.looks[i].at.x == in_process.looks[i].at.x);
        REQUIRE(by_program.looks[i].left_pct == in_process.looks[i].left_pct);
    }
    CHECK(other.pace().looks == in_process.looks_done);
    CHECK(other.pace().late == 0);
}

TEST_CASE("a plan's C for a robot drives the demo as the map does with the same numbers, look for look" *
          doctest::skip(fixtures::sanitized())) {
    const DrivenBy drives[] = {{"rounds.plan", "sprig-5.robot.toml", "glass-wing.course.toml"},
                               {"rounds.plan", "sprig-5-weighed.robot.toml", "glass-wing.course.toml"},
                               {"left-first.plan", "sprig-2.robot.toml", "fern-house.course.toml"},
                               {"plates.plan", "sprig-5.robot.toml", "glass-wing.course.toml"},
                               {"plans/five-pid.plan", "sprig-5.robot.toml", "glass-wing.course.toml"},
                               {"plans/three-pi.plan", "sprig-3.robot.toml", "fern-house.course.toml"}};
    std::size_t looks = 0;
    for (const DrivenBy& one : drives) {
        const bool last = &one == std::end(drives) - 1;
        for (const auto numbers : {runtime::NumberKind::binary32, runtime::NumberKind::binary64}) {
            if (!last && fixtures::rounds(1, 0, 0) == 0 && numbers == runtime::NumberKind::binary64) {
                continue; // C takes long to build: mostly the last is driven in double, too, the others in float
            }
            CAPTURE(one.plan);
            CAPTURE(one.robot);
            const fixtures::Folder folder;
            const Plan plan = loaded(one.plan);
            const Course course = load_course(demo_files + one.course);
            const Robot robot = load_robot(demo_files + one.robot);
            const Scene scene(course, robot);
            RunOptions options;
            options.numbers = numbers;
            options.time_limit_s = fixtures::rounds(60, 8, 3);
            const Run on_the_map = drive(scene, plan, options);
            OtherMind other({.words = {c_program(folder, plan, robot, scene.own_calibration(), numbers)}}, plan, robot);
            const Run by_c = drive(scene, plan, Decide(other), options);
            CHECK(written(by_c) == written(on_the_map));
            looks += by_c.looks.size();
        }
    }
    CHECK(looks > 1000);
    MESSAGE(looks, " looks");
}

TEST_CASE("run and trips drive with a program, and say how it kept pace") {
    const fixtures::Folder folder;
    const std::string slow = python(folder, R"(import sys
print("left_pct,right_pct,took_ms", flush=True)
sys.stdin.readline()
for n, row in enumerate(sys.stdin):
    print(f"40,40,{25 if n % 10 == 0 else 1.5}", flush=True)
)");
    const auto called = call_vturn({"run", demo_files + "aisle.course.toml", demo_files + "sprig-2.robot.toml",
                                    demo_files + "left-first.plan", "--limit-s", "1", "--on", "'" + slow + "'"});
    CHECK(called.status == 1);
    // A look each 10 ms; each tenth answer takes three of them, of which two are late.
    CHECK(
        called.out.find("  on          '" + slow +
                        "': 82 looks answered, 18 came late, while it was still busy; the slowest took 25 of 10 ms") !=
        std::string::npos);
    const auto json = [&](std::vector<std::string> call) {
        call.insert(call.end(), {"--on", "'" + slow + "'", "--json"});
        return nlohmann::json::parse(call_vturn(call).out).at("on");
    };
    const std::vector<std::string> files = {demo_files + "aisle.course.toml", demo_files + "sprig-2.robot.toml",
                                            demo_files + "left-first.plan"};
    const auto of_run = json({"run", files[0], files[1], files[2], "--limit-s", "1"});
    CHECK(of_run.at("looks") == 82);
    CHECK(of_run.at("late") == 18);
    CHECK(of_run.at("slowest_ms") == 25.0);
    CHECK(of_run.at("period_ms") == 10.0);
    const auto of_trips =
        json({"trips", demo_files + "fern-house.course.toml", files[1], files[2], "--no-cures", "--filter", "water"});
    CHECK(of_trips.at("late").get<int>() > 18);
    const auto trips = call_vturn({"trips", demo_files + "fern-house.course.toml", demo_files + "sprig-2.robot.toml",
                                   demo_files + "left-first.plan", demo_files + "right-first.plan", "--on", "cat"});
    CHECK(trips.status == 2);
    CHECK(trips.err.find("--on stands in the place of one plan") != std::string::npos);
}

TEST_CASE("what is wrong with a program is told, and nothing hangs") {
    const fixtures::Folder folder;
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "else -> ahead(40)"));
    const Robot robot = load_robot(demo_files + "sprig-2.robot.toml");
    const auto said = [&](const std::vector<std::string>& words, double patience_s = 20.0) {
        return fixtures::message_of([&] {
            OtherMind other({.words = words, .patience_s = patience_s}, plan, robot);
            Answer answer;
            for (int i = 0; i < 3; ++i) {
                other(Look{.clock_ms = 10.0 * i, .sensors = 2}, answer);
            }
        });
    };
    const auto wants = [&](const std::string& message, const char* part) {
        CAPTURE(message);
        CHECK(message.find(part) != std::string::npos);
    };
    wants(said({"/no/such/program"}), "the program `/no/such/program` cannot be started: No such file or directory");
    wants(said({"sleep", "30"}, 0.2), "the program `sleep 30`: it said nothing for 0.2 s");
    wants(said({"true"}), "it ended before the run did");
    wants(said({"echo", "left,right"}), "its first line has no column `left_pct`: left,right");
    wants(said({python(folder, "print('left_pct,right_pct\\n1,2\\n3')")}),
          "to look 2 it answered 1 values in place of 2: 3");
    wants(said({python(folder, "print('left_pct,right_pct\\n1,nan')")}), "right_pct = `nan`, which is no number");
    wants(said({python(folder, "print('x' * 100000)")}), "it wrote a line without end");
    const std::string c = c_program(folder, plan, robot, std::nullopt, runtime::NumberKind::binary32);
    const Plan changed = fixtures::compiled(fixtures::plan_text(2, "else -> ahead(41)"));
    const char* const refused = "it was made of another plan";
    wants(fixtures::message_of([&] { OtherMind({.words = {c}}, changed, robot); }), refused);
    const Plan slow =
        fixtures::compiled("plan \"by name\"\nsensors 2\nlet slow = 31\nhabit go {\n else -> ahead(slow)\n}\n");
    const Plan slower =
        fixtures::compiled("plan \"by name\"\nsensors 2\nlet slow = 29\nhabit go {\n else -> ahead(slow)\n}\n");
    CHECK(program_mark(slow, robot) != program_mark(slower, robot));
    Robot wider = robot;
    wider.track_mm += 3.0;
    wants(fixtures::message_of([&] { OtherMind({.words = {c}}, plan, wider); }), refused);
    Robot three = robot;
    three.sensors.push_back(three.sensors.front());
    wants(fixtures::message_of([&] { OtherMind({.words = {c}}, plan, three); }), refused);
}

TEST_CASE("the words of a call are parted by blanks, and quotes hold them together") {
    using Words = std::vector<std::string>;
    CHECK(words_of_call("  chip-line  'my chip.elf' a\"b c\"d '' ") == Words{"chip-line", "my chip.elf", "ab cd", ""});
    CHECK(fixtures::message_of([] { words_of_call("  "); }).find("has no word in it") != std::string::npos);
    CHECK(fixtures::message_of([] { words_of_call("a 'b"); }).find("a quote ' is not closed") != std::string::npos);
}
