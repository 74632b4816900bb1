#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/sim/run.hpp"

#include <doctest/doctest.h>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"

using namespace vast_turn;

namespace {

using fixtures::FernHouse;

std::string error_of(const Scene& scene, const Plan& plan, const RunOptions& options) {
    try {
        drive(scene, plan, options);
    } catch (const InputError& error) {
        return error.what();
    }
    return "";
}

} // namespace

TEST_CASE("the same seed gives the same trace byte for byte, another seed another") {
    const FernHouse f;
    RunOptions options;
    const auto trace = [&] { return trace_csv(drive(f.scene, f.plan, options), f.robot, &f.plan); };
    const std::string first = trace();
    CHECK(first.size() > 10'000);
    CHECK(trace() == first);
    options.seed = 2;
    CHECK(trace() != first);
    const FernHouse again;
    options.seed = 1;
    CHECK(trace_csv(drive(again.scene, again.plan, options), again.robot, &again.plan) == first);
}

TEST_CASE("the first look is at 0 with the robot at rest, the next ones a loop period apart") {
    const FernHouse f;
    const Run run = drive(f.scene, f.plan);
    CHECK(run.looks.size() == run.looks_done);
    for (std::size_t i = 0; i < run.looks.size(); ++i) {
        REQUIRE(run.looks[i].t_s == doctest::Approx(0.010 * static_cast<double>(i)).epsilon(1e-12));
    }
    CHECK(run.looks[0].at == Vec2{186.0, 790.0});
}

TEST_CASE("a finer step hardly changes a run, and not keeping looks changes nothing else") {
    const FernHouse f;
    RunOptions options;
    const Run coarse = drive(f.scene, f.plan, options);
    options.keep_looks = false;
    const Run quiet = drive(f.scene, f.plan, options);
    CHECK(quiet.looks.empty());
    CHECK(quiet.time_s == coarse.time_s);
    CHECK(quiet.end_at == coarse.end_at);
    options.step_ms = 0.25;
    const Run fine = drive(f.scene, f.plan, options);
    CHECK(fine.ending == coarse.ending);
    CHECK(fine.visits.size() == coarse.visits.size());
}

TEST_CASE("wheels obey after the delay, also when several looks are under way") {
    Robot robot = fixtures::ideal_robot(2);
    const Course course = fixtures::board({"M 0,300 H 1000"});
    for (const double delay_ms : {0.0, 3.0, 10.0, 47.0}) {
        CAPTURE(delay_ms);
        robot.delay_ms = delay_ms;
        const Scene scene(course, robot);
        RunOptions options;
        options.time_limit_s = 1.0;
        const Run run = drive(scene, Decide([](const Look& look, Answer& answer) {
                                  answer.left_pct = answer.right_pct = look.clock_ms < 195.0 ? 0.0 : 50.0;
                              }),
                              options);
        CHECK(run.way_mm == doctest::Approx(210.0 * (1.0 - 0.200 - delay_ms / 1000.0)));
    }
}

TEST_CASE("way, turn and mean speed add up for a circle") {
    const Robot robot = fixtures::ideal_robot(2);
    const Course course = fixtures::board({"M 0,300 H 1000"});
    const Scene scene(course, robot);
    RunOptions options;
    options.time_limit_s = 2.0;
    const Run run = drive(scene, Decide([](const Look&, Answer& answer) {
                              answer.left_pct = 10.0;
                              answer.right_pct = 40.0;
                          }),
                          options);
    CHECK(run.ending == Ending::time_over);
    CHECK(run.way_mm == doctest::Approx(210.0));
    CHECK(run.mean_speed_mm_s() == doctest::Approx(105.0));
    CHECK(run.turned_deg == doctest::Approx(to_degrees(0.3 * 420.0 * 2.0 / 118.0)));
}

TEST_CASE("a plan sees only what the sensors give: moving the tape away from under it changes its answers") {
    const Robot robot = fixtures::ideal_robot(3);
    const Plan plan = fixtures::compiled(fixtures::plan_text(3, "[.#.] -> note(\"line\"), ahead(30)\nelse -> still"));
    const Course with = fixtures::board({"M 0,300 H 1000"});
    Course without = with;
    without.surface = fixtures::board({}).surface; // the map still has its tape
    RunOptions options;
    options.time_limit_s = 1.0;
    CHECK(drive(Scene(with, robot), plan, options).events.size() == 1);
    CHECK(drive(Scene(without, robot), plan, options).events.empty());
}

TEST_CASE("a wrong calibration misleads the robot") {
    const Robot robot = fixtures::ideal_robot(3);
    const Plan plan = fixtures::compiled(fixtures::plan_text(3, "[.#.] -> ahead(30)\nelse -> still"));
    const Course course = fixtures::board({"M 0,300 H 1000"});
    const Scene scene(course, robot);
    RunOptions options;
    options.time_limit_s = 1.0;
    options.calibration = scene.own_calibration();
    CHECK(drive(scene, plan, options).way_mm > 100.0);
    options.calibration->sensors[1].line_counts = -4000.0;
    CHECK(drive(scene, plan, options).way_mm == 0.0);
}

TEST_CASE("unanswered looks are counted, and the looks say that no rule acted") {
    const Robot robot = fixtures::ideal_robot(2);
    const Course course = fixtures::board({"M 0,300 H 1000"});
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "[.#] -> ahead(30)"));
    RunOptions options;
    options.time_limit_s = 0.5;
    const Run run = drive(Scene(course, robot), plan, options);
    CHECK(run.unanswered == run.looks_done);
    CHECK(run.looks.back().rule == no_rule);
}

TEST_CASE("options that do not fit are refused with what to do") {
    const FernHouse f;
    RunOptions options;
    options.start = "potting bensh";
    CHECK(error_of(f.scene, f.plan, options).find("did you mean `potting bench`?") != std::string::npos);
    options = {};
    options.step_ms = 0.7;
    CHECK(error_of(f.scene, f.plan, options).find("is no whole number of simulation steps") != std::string::npos);
    options = {};
    options.calibration = Calibration{};
    CHECK(error_of(f.scene, f.plan, options).find("the calibration is for 0 sensors, the robot has 2") !=
          std::string::npos);
    options = {};
    options.time_limit_s = -1.0;
    CHECK(error_of(f.scene, f.plan, options).find("must be above 0") != std::string::npos);
    const Plan three = fixtures::compiled(fixtures::plan_text(3, "else -> keep"));
    CHECK(error_of(f.scene, three, {}).find("written for 3 line sensors, robot \"Sprig-2\" has 2") !=
          std::string::npos);
}
