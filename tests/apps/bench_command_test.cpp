/// `vturn stand-in` and `vturn bench` at the two ends of a line, as programs of their own.
#include <filesystem>

#include <unistd.h>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "support/terminal.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using fixtures::call_vturn;
using fixtures::Called;

namespace {

const std::string sprig_file = "data/fern-house/sprig-5.robot.toml";

bool bench_says(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

/// Both ends of a line in a folder of their own.
struct BothEnds {
    fixtures::Folder folder;
    std::string vturn = fixtures::built("apps/vturn/vturn");
    std::string port = folder.file("port");

    std::string written(const std::string& name, const std::string& text) const {
        vast_turn::write_file(folder.file(name), text);
        return folder.file(name);
    }

    /// What the bench says, and below it what the stand-in did, which ends by itself or is ended.
    Called at_bench(const std::string& stand_in, const std::string& bench) const {
        // A busy machine paints the stand-in's course for longer than a bench waits: it begins when there is a line.
        return fixtures::program(fmt::format("({0} stand-in {1} --at {2} {3} > {4} 2>&1 & robot=$!; n=0; "
                                             "while [ ! -e {2} ] && [ $n -lt 600 ]; do sleep 0.1; n=$((n+1)); done; "
                                             "{0} bench {2} --robot {1} {5}; status=$?; kill $robot "
                                             "2>/dev/null; wait $robot 2>/dev/null; cat {4}; exit $status)",
                                             vturn, sprig_file, port, stand_in, folder.file("stand-in.txt"), bench));
    }
};

const char* const walk_hand = "floor 1.6s\nline 1.6s\nplate amber 1.6s\nsweep 3s\ncard off 1s\ncard 1 1s\ncard 2 1s\n"
                              "card 3 1s\ncard 4 1s\ncard 5 1s\nfloor 3s\n";
const char* const walk_script =
    "at 0.2s learn floor\nat 1.8s learn line\nat 3.4s learn plate amber\n"
    "at 4.82s learn sweep\nat 7.78s stop\nuse\ncard\nat 8.2s hold\nat 9.2s hold\n"
    "at 10.2s hold\nat 11.2s hold\nat 12.2s hold\nat 13.2s hold\nat 14s verdicts\nat 14.1s leave\n";

} // namespace

TEST_CASE("bench: the stand-in is calibrated, its swapped wire found, and what was seen is written") {
    const BothEnds ends;
    const std::string calibration = ends.folder.file("sprig.calibration.toml");
    const std::string readings = ends.folder.file("sprig.csv");
    const std::string log = ends.folder.file("sprig.log.csv");
    const Called called = ends.at_bench("--pace 6 --fault swapped:2,4 --hand " + ends.written("walk.hand", walk_hand),
                                        fmt::format("--plan data/fern-house/rounds.plan --script {} -o {} -o {} -o {}",
                                                    ends.written("walk.txt", walk_script), calibration, readings, log));
    CAPTURE(called.out);
    CAPTURE(called.err);
    CHECK(called.status == 1); // the card check found a fault
    CHECK(bench_says(called.out, "  answer    motors,off"));
    CHECK(bench_says(called.out, "swapped: the wires of sensors 2 and 4 are swapped"));
    CHECK(bench_says(called.out, "the tape came to the sensors in the order 1, 4, 3, 2, 5"));
    CHECK(bench_says(called.out, "reads with what was learned"));
    CHECK(bench_says(called.out, "over amber"));
    const vast_turn::Robot robot = vast_turn::load_robot(sprig_file);
    const vast_turn::Calibration levels = vast_turn::calibration_for(robot, vast_turn::load_calibration(calibration));
    CHECK(levels.sensors[0].floor_counts > levels.sensors[0].line_counts + 500.0);
    const Called again = call_vturn({"calibrate", readings, "--robot", sprig_file});
    CHECK(bench_says(again.out, "80 looks over line, 80 over floor"));
    const Called asked = call_vturn(
        {"ask", "data/fern-house/rounds.plan", "--log", log, "--robot", sprig_file, "--calibration", calibration});
    CAPTURE(asked.err);
    CHECK(asked.status == 0);
}

TEST_CASE("bench: a cable that is bad, and one that is pulled out and put back") {
    const BothEnds ends;
    const Called called = ends.at_bench(
        "--pace 4 --cable lost=0.002 --cable garbled=0.002 --cable doubled=0.001 --cable cut=0.0005 --hand " +
            ends.written("a.hand", "floor 2s\nunplug 2s\nline 60s\n"),
        "--script " + ends.written("a.txt", "at 0.3s learn floor\nat 5s learn line\nat 8s verdicts\nat 8.1s leave\n"));
    CAPTURE(called.out);
    CHECK(called.status == 0);
    CHECK(bench_says(called.out, "  cable     it is out\n"));
    CHECK(bench_says(called.out, "  cable     it is there again\n"));
    CHECK(bench_says(called.out, "cable out once"));
    CHECK(bench_says(called.out, "80 looks over line, 80 over floor"));
    CHECK_FALSE(bench_says(called.out, " 0 garbled"));
    CHECK(bench_says(called.out, " garbled, "));
}

TEST_CASE("bench: a robot that was switched off and on is asked anew to keep its motors off") {
    const BothEnds ends;
    // Two stand-ins one after another at the same port: the clock of the second begins anew.
    const std::string one = fmt::format("{} stand-in {} --at {} --pace 10 --for-s", ends.vturn, sprig_file, ends.port);
    const Called called =
        fixtures::program(fmt::format("(({0} 3; {0} 40) > {1} 2>&1 & robots=$!; {2} bench {3} --robot {4} --script "
                                      "{5}; status=$?; kill $robots; pkill -P "
                                      "$robots; exit $status)",
                                      one, ends.folder.file("said"), ends.vturn, ends.port, sprig_file,
                                      ends.written("a.txt", "at 2s learn floor\nat 20s leave\n")));
    CAPTURE(called.out);
    CAPTURE(called.err);
    const std::size_t first = called.out.find("  answer    motors,off");
    REQUIRE(first != std::string::npos);
    CHECK(called.out.find("  answer    motors,off", first + 1) != std::string::npos);
    CHECK(bench_says(called.out, "cable out once"));
}

TEST_CASE("bench: numbers of a running robot are changed, shown in what it drives, and written into the plan") {
    const BothEnds ends;
    std::string text = vast_turn::read_file("data/fern-house/rounds.plan");
    const std::string let = "let cruise = 44";
    text.insert(text.find(let) + let.size(), " // may be 20..70");
    const std::string slow = "let slow = 31";
    text.replace(text.find(slow), slow.size(), "let slow = cruise * 31 / 44");
    const std::string plan = ends.written("my.plan", text);
    const std::string log = ends.folder.file("run.log.csv");
    const Called called = ends.at_bench(
        fmt::format("data/fern-house/glass-wing.course.toml --plan {} --drives --pace 4", plan),
        fmt::format("--settings {} --script {} -o {}", plan,
                    ends.written("a.txt", "at 1.2s set cruise 38.5\nat 4s motors off\nat 4.6s write\nat 4.7s leave\n"),
                    log));
    CAPTURE(called.out);
    CAPTURE(called.err);
    CHECK(called.status == 0);
    CHECK(bench_says(called.out, "  answer    set,cruise,38.5"));
    CHECK(bench_says(called.out, "  answer    set,slow,27.1250000"));
    CHECK(bench_says(called.out, "  note      "));
    CHECK(bench_says(called.out, "cruise 38.5 (was 44)"));
    CHECK(bench_says(vast_turn::read_file(plan), "let cruise = 38.5 // may be 20..70"));
    const std::string told = vast_turn::read_file(log);
    CHECK(bench_says(told, ",44,44\n"));
    CHECK(bench_says(told, ",38.5,38.5\n"));
}

TEST_CASE("bench: of a robot that drives it is told when it loses the line, and when it has it again") {
    const BothEnds ends;
    std::string text = vast_turn::read_file("data/fern-house/plans/search.plan");
    const std::string let = "let cruise = 43";
    text.insert(text.find(let) + let.size(), " // may be 20..70");
    const std::string plan = ends.written("search.plan", text);
    const std::string calibration = ends.folder.file("sprig.calibration.toml");
    REQUIRE(call_vturn({"calibrate", "--simulate", "data/fern-house/drain.course.toml", sprig_file, "-o", calibration})
                .status == 0);
    const auto at_bench = [&](const std::string& stand_in, const std::string& more) {
        return ends
            .at_bench(stand_in, fmt::format("--calibration {} --script {} {}", calibration,
                                            ends.written("a.txt", "at 7s leave\n"), more))
            .out;
    };
    const std::string out = at_bench(fmt::format("data/fern-house/drain.course.toml --plan {} --drives --pace 4", plan),
                                     "--settings " + plan);
    CAPTURE(out);
    const std::size_t lost = out.find("  lost      no sensor has seen the line for 0.3");
    const std::size_t found = out.find("  found     it sees the line again, after ");
    REQUIRE(lost != std::string::npos);
    CHECK(found != std::string::npos);
    CHECK(lost < found);
    // In the hand, with its motors off, that is no news.
    CHECK_FALSE(bench_says(at_bench("--pace 8 --hand " + ends.written("f.hand", "floor 9s\n"), ""), "  lost "));
}

TEST_CASE("bench: calls and commands that cannot be are refused, and what was learned is not lost") {
    const BothEnds ends;
    const auto refused = [&](const std::vector<std::string>& words) {
        std::vector<std::string> all = {"bench", ends.port, "--robot", sprig_file, "--patience-s", "0.3"};
        all.insert(all.end(), words.begin(), words.end());
        const Called called = call_vturn(all);
        CHECK(called.status != 0);
        return called.out + called.err;
    };
    CHECK(bench_says(refused({}), "no look has come for 0.3 s"));
    CHECK(bench_says(refused({"-o", "x.bin"}), "the ending of x.bin does not say what to write"));
    CHECK(bench_says(refused({"--bits-s", "1234"}), "does not go at 1234 bits a second"));
    CHECK(bench_says(refused({"--short"}), "the short form needs the plan"));
    CHECK(bench_says(refused({"--settings", "data/fern-house/left-first.plan"}), "no let of the plan may be changed"));
    CHECK(bench_says(refused({"--plan", "data/fern-house/left-first.plan"}), "sensors"));
    CHECK(bench_says(call_vturn({"bench", "README.md", "--robot", sprig_file}).err, "this is no serial port"));
    CHECK(call_vturn({"bench", "--robot", sprig_file}).status == 2);
    CHECK(bench_says(call_vturn({"bench", ends.port}).err, "name its file: --robot"));
    CHECK(bench_says(call_vturn({"stand-in", sprig_file, "data/fern-house/glass-wing.course.toml", "--drives"}).err,
                     "a robot without a plan does not drive"));
    CHECK(bench_says(call_vturn({"stand-in", sprig_file, "--cable", "lots=1"}).err, "did you mean lost"));
    CHECK(bench_says(call_vturn({"stand-in", sprig_file, "--at", "README.md"}).err,
                     "something is there that is no link"));
    CHECK(bench_says(call_vturn({"stand-in", sprig_file, "--hand", ends.written("a.hand", "plate blue 1s\n")}).err,
                     "no blue plate lies on the course"));
    const Called called = ends.at_bench(
        "--pace 6 --hand " + ends.written("b.hand", "floor 1.5s\nline 20s\n"),
        "--script " + ends.written("b.txt", "at 0.1s learn flor\nlearn floor\nat 1.8s learn line\nat 3s motors "
                                            "on\nset cruise 4\nhold\nsave a.bin\nsave " +
                                                ends.folder.file("c.calibration.toml") + "\nleave\n"));
    CAPTURE(called.out);
    CAPTURE(called.err);
    CHECK(called.status == 2);
    CHECK(bench_says(called.err, "b.txt: error: line 1: that cannot be learned"));
    CHECK(bench_says(called.err, "on the bench the motors stay off"));
    CHECK(bench_says(called.err, "there are no settings"));
    CHECK(bench_says(called.err, "no card is being walked"));
    CHECK(std::filesystem::exists(ends.folder.file("c.calibration.toml")));
}

namespace {

/// A program in a terminal that can be looked at as it stands: a curses program draws only what has changed.
class ScreenOf {
public:
    ScreenOf(const fixtures::Folder& folder, const std::string& command, int columns, int rows)
        : tmux_(fmt::format("tmux -S {} ", folder.file("screen"))) {
        REQUIRE(fixtures::program(
                    fmt::format("{} -f /dev/null new-session -d -x {} -y {} '{}'", tmux_, columns, rows, command))
                    .status == 0);
    }
    ScreenOf(const ScreenOf&) = delete;
    ScreenOf& operator=(const ScreenOf&) = delete;
    ~ScreenOf() { fixtures::program(tmux_ + "kill-server"); }

    void type(const std::string& key) const { fixtures::program(tmux_ + "send-keys " + key); }
    std::string now() const { return fixtures::program(tmux_ + "capture-pane -p").out; }
    /// Whether it shows that within a minute.
    bool shows(const std::string& words) const {
        for (int i = 0; i < 600; ++i) {
            if (bench_says(now(), words)) {
                return true;
            }
            ::usleep(100000);
        }
        return false;
    }

private:
    std::string tmux_;
};

} // namespace

TEST_CASE("bench in a terminal: keys learn, read and walk through the card check") {
    const BothEnds ends;
    fixtures::Terminal robot({ends.vturn, "stand-in", sprig_file, "--at", ends.port, "--fault", "swapped:1,3"}, 30,
                             100);
    REQUIRE(robot.shows("q leave"));
    const ScreenOf bench(
        ends.folder,
        fmt::format("{} bench {} --robot {} --plan data/fern-house/rounds.plan", ends.vturn, ends.port, sprig_file),
        140, 50);
    REQUIRE(bench.shows("motors: off, it says"));
    bench.type("f");
    CHECK(bench.shows("learned: floor 80"));
    robot.type("l");
    REQUIRE(robot.shows("over the line"));
    bench.type("l");
    CHECK(bench.shows("floor 80, line 80"));
    CHECK(bench.shows("threshold"));
    bench.type("u");
    CHECK(bench.shows("pattern   #####"));
    CHECK(bench.shows("acts      line"));
    bench.type("k");
    CHECK(bench.shows("card: take every card away"));
    for (int card = 0; card <= 5; ++card) {
        robot.type(std::to_string(card));
        REQUIRE(robot.shows(card == 0 ? "no card" : fmt::format("a card under sensor {}", card)));
        const std::string pattern = std::vector<std::string>{
            ".....", "..#..", ".#...", "#....", "...#.", "....#"}[static_cast<std::size_t>(card)];
        CHECK(bench.shows("pattern   " + pattern));
        bench.type("Enter");
        CHECK(bench.shows(card < 5 ? fmt::format("card: card under sensor {}", card + 1)
                                   : "card: swapped: the wires of sensors 1 and 3 are swapped"));
    }
    bench.type(": f o r g e x BSpace t Space l i n e");
    CHECK(bench.shows("> forget line_"));
    bench.type("Enter");
    CHECK(bench.shows("line is forgotten"));
    CHECK(bench.shows(" 0 garbled")); // looks were read while it was typed
    robot.type("u");
    REQUIRE(robot.shows("the cable is out"));
    CHECK(bench.shows("no line"));
    robot.type("u");
    CHECK(bench.shows("cable  it is there again"));
    CHECK(bench.shows("cable out once"));
    bench.type("q");
    robot.type("q");
    CHECK(robot.ended() == 0);
}

TEST_CASE("bench in a terminal: a number of the running robot is moved by keys, and the plan is asked with it") {
    const BothEnds ends;
    std::string text = vast_turn::read_file("data/fern-house/rounds.plan");
    const std::string let = "let cruise = 44";
    text.insert(text.find(let) + let.size(), " // may be 20..70");
    const std::string plan = ends.written("my.plan", text);
    const std::string calibration = ends.folder.file("sprig-5.calibration.toml");
    REQUIRE(
        call_vturn({"calibrate", "--simulate", "data/fern-house/mist-round.course.toml", sprig_file, "-o", calibration})
            .status == 0);
    fixtures::Terminal robot({ends.vturn, "stand-in", sprig_file, "data/fern-house/glass-wing.course.toml", "--plan",
                              plan, "--drives", "--at", ends.port, "--calibration", calibration, "--pace", "0.5"},
                             30, 100);
    REQUIRE(robot.shows("waits to be spoken to"));
    const ScreenOf bench(ends.folder,
                         fmt::format("{} bench {} --robot {} --settings {} --calibration {}", ends.vturn, ends.port,
                                     sprig_file, plan, calibration),
                         140, 40);
    REQUIRE(bench.shows("> cruise        44"));
    REQUIRE(bench.shows("the robot did so in all"));
    bench.type("Right Right");
    CHECK(bench.shows("> cruise        46"));
    CHECK(bench.shows("answer  set,cruise,46"));
    ::usleep(1500000);
    CHECK(bench.shows("the robot did so in all")); // the plan that is asked has it from the same look on
    bench.type("m");
    CHECK(bench.shows("motors: off, it says"));
    bench.type("w");
    CHECK(bench.shows("cruise 46 (was 44)"));
    CHECK(bench_says(vast_turn::read_file(plan), "let cruise = 46 // may be 20..70"));
    bench.type("q");
}
