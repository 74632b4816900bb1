/// The command and the examples as real programs.
#include <chrono>
#include <sstream>
#include <thread>

#include <doctest/doctest.h>

#include "print/progress.hpp"
#include "support/fixtures.hpp"
#include "support/golden.hpp"
#include "support/rounds.hpp"
#include "vast_turn/paint/course_file.hpp"

using fixtures::Called;
using fixtures::program;

namespace {

const std::string vturn_program = fixtures::built("apps/vturn/vturn");

std::string example(const std::string& name) { return fixtures::built("examples/example_" + name); }

} // namespace

TEST_CASE("the program gives what the call in process gives") {
    const Called called =
        program(vturn_program + " trips data/fern-house/fern-house.course.toml data/fern-house/sprig-2.robot.toml "
                                "data/fern-house/left-first.plan data/fern-house/right-first.plan");
    CHECK(called.status == 1);
    golden::check("trips.txt", called.out);
    CHECK(called.err.empty());
}

TEST_CASE("the program keeps results and diagnostics apart and has its exit statuses") {
    const Called bad = program(vturn_program + " table no.plan");
    CHECK(bad.status == 2);
    CHECK(bad.out.empty());
    CHECK(bad.err ==
          "no.plan: error: cannot be read: No such file or directory\n  to do: check the name and the folder\n");
    CHECK(program(vturn_program + " table data/fern-house/gentle.plan").status == 0);
    CHECK(program(vturn_program + " --version").out.starts_with("vturn 0.1.0\nbuilt  "));
    const Called full = program("sh -c '" + vturn_program + " table data/fern-house/gentle.plan > /dev/full'");
    CHECK(full.status == 2);
    CHECK(full.err == "vturn: error: the output cannot be written\n");
}

TEST_CASE("examples print what their first lines promise" * doctest::skip(fixtures::sanitized())) { // not built there
    golden::check("example-run-a-plan.txt", program(example("run_a_plan")).out);
    golden::check("example-decide-in-code.txt", program(example("decide_in_code")).out);
    golden::check("example-calibrate.txt", program(example("calibrate_an_array")).out);
    golden::check("example-bench-check.txt", program(example("bench_check")).out);
    golden::check("example-vet.txt", program(example("vet_a_plan")).out);
    golden::check("example-route.txt", program(example("tell_a_route")).out);
    golden::check("example-trips.txt", program(example("take_trips")).out);
    golden::check("example-tune.txt", program(example("tune_numbers")).out);
    golden::check("example-step.txt", program(example("step_through_a_run")).out);
    golden::check("example-side-by-side.txt", program(example("side_by_side")).out);
    const fixtures::Folder folder;
    golden::check("example-draw.txt", program(example("draw_a_course") + " " + folder.file("aisle.course.toml")).out);
    CHECK(vast_turn::load_course(folder.file("aisle.course.toml")).tapes.size() == 2);
    CHECK(program(example("run_a_plan") + " nowhere").status == 2);
    CHECK(program(example("decide_in_code") + " nowhere").status == 2);
}

TEST_CASE("how far work is goes to terminals as it comes, to a log at most once a minute") {
    std::istringstream in;
    std::ostringstream out;
    std::ostringstream log;
    const vturn::Streams to_log{in, out, log, false, false};
    vturn::Progress quiet(to_log);
    quiet.tell("runs", 1, 9);
    CHECK(log.str().empty());
    std::ostringstream terminal;
    const vturn::Streams watched{in, out, terminal, false, true};
    vturn::Progress shown(watched);
    shown.tell("changes", 1, 9);
    std::this_thread::sleep_for(std::chrono::milliseconds(1050));
    quiet.tell("runs", 3, 9);
    shown.tell("changes", 3, 9);
    CHECK(log.str().empty());
    // Two took a second and a little: six more take three or four.
    CHECK(terminal.str().starts_with("\r3 of 9 changes done, about "));
    CHECK(terminal.str().ends_with(" s left\x1b[K"));
    shown.clear();
    CHECK(terminal.str().ends_with("\r\x1b[K")); // it does not stay
}
