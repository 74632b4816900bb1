/// Where a stepped run stops.

#include "vast_turn/step/stop.hpp"
#include "vast_turn/trial/comparison.hpp"

#include <algorithm>

#include <doctest/doctest.h>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "vast_turn/plan/explain/plan_state.hpp"

using namespace vast_turn;

namespace {

using fixtures::FernHouse;
using fixtures::message_of;

Stop when(const Plan& plan, const std::string& condition) {
    return stop_when(plan, *make_probe(plan, condition).probe);
}

/// Every look at which a run driven on again and again stops.
std::vector<std::size_t> stops_of(SteppedRun run, Stop stop) {
    std::vector<std::size_t> looks;
    while (go_on(run, stop)) {
        looks.push_back(run.at());
    }
    return looks;
}

/// Every look of a whole run at which something begins to hold, the first left out.
template <class Holds> std::vector<std::size_t> begins(const Run& run, Holds holds) {
    std::vector<std::size_t> looks;
    for (std::size_t i = 1; i < run.looks.size(); ++i) {
        if (holds(run.looks[i]) && !holds(run.looks[i - 1])) {
            looks.push_back(i);
        }
    }
    return looks;
}

} // namespace

TEST_CASE("a run stops wherever a line of its plan, a pattern or a condition begins to hold, and nowhere else") {
    const FernHouse f;
    const Run whole = drive(f.scene, f.plan);
    const SteppedRun run(f.scene, f.plan);
    for (const int line : {9, 10, 11}) {
        CAPTURE(line);
        const std::vector<std::size_t> expected = begins(
            whole, [&](const LookRecord& look) { return look.rule < no_rule && f.plan.rule(look.rule).line == line; });
        CHECK(expected.size() > 3);
        CHECK(stops_of(run, stop_at_line(f.plan, line)) == expected);
    }
    CHECK(stops_of(run, when(f.plan, "[#.]")) ==
          begins(whole, [](const LookRecord& look) { return look.line_bits == 1; }));
    CHECK(stops_of(run, when(f.plan, "travelled > 700mm")).size() == 1);
    SteppedRun far = run;
    Stop way = stop_after_way(612.0);
    REQUIRE(go_on(far, way));
    CHECK(far.body().path_mm >= 612.0);
    CHECK(far.run().looks.back().way_mm < 612.0F);
    CHECK_FALSE(go_on(far, way));
    CHECK(far.is_over());
}

TEST_CASE("a run stops at places and junctions each time that it comes to them, and when no rule holds") {
    const FernHouse f;
    const Run whole = drive(f.scene, f.plan);
    SteppedRun run(f.scene, f.plan);
    Stop place = stop_at_place(f.course, "fork");
    REQUIRE(go_on(run, place));
    CHECK(run.run().visits.size() == 2);
    CHECK(run.time_s() - run.run().visits.back().t_s < 0.02);
    run.to_look(0);
    Stop junction = stop_at_junction(f.scene, "");
    REQUIRE(go_on(run, junction));
    CHECK(length(from_robot(run.body().at, run.body().ahead, f.scene.array_middle()) - Vec2{710.0, 520.0}) < 40.0);
    CHECK_FALSE(go_on(run, junction));

    const Plan half =
        fixtures::compiled(fixtures::plan_text(2, "[..] -> ahead(40)\n[##] -> ahead(40)\n[.#] -> wheels(44, -20)"));
    const RunOptions searching{.time_limit_s = 20.0, .lost_after_s = 5.0};
    const std::vector<std::size_t> expected =
        begins(drive(f.scene, half, searching), [](const LookRecord& look) { return look.rule == no_rule; });
    CHECK_FALSE(expected.empty());
    CHECK(stops_of(SteppedRun(f.scene, half, searching), stop_unanswered()) == expected);
}

TEST_CASE("a run stops where the line is lost, as comparing counts it") {
    const Course course = load_course("data/fern-house/drain.course.toml");
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    const Plan plan = load_plan("data/fern-house/plans/search.plan");
    const Scene scene(course, robot);
    const RunOptions options{.lost_after_s = 9.0};
    std::vector<std::size_t> expected;
    for (const LineLoss& loss : losses_of(scene, drive(scene, plan, options))) {
        expected.push_back(loss.look + 2);
    }
    CHECK(expected.size() > 1);
    CHECK(stops_of(SteppedRun(scene, plan, options), stop_at_loss()) == expected);
}

TEST_CASE("a run stops when a block comes in hand, at an item of it, and at a guard that hands over") {
    const Course course = load_course("data/fern-house/turns.course.toml");
    const Robot robot = load_robot("data/fern-house/sprig-3.robot.toml");
    const Plan plan = load_plan("data/fern-house/plans/colour-rules.plan");
    const Scene scene(course, robot);
    SteppedRun run(scene, plan);
    Stop block = stop_in_block(plan, "take");
    REQUIRE(go_on(run, block));
    const PlanState state = state_of(*run.mind(), run.look());
    REQUIRE(state.blocks.size() == 2);
    CHECK(state.blocks[1].block == "take");
    REQUIRE(state.blocks[1].arguments.size() == 1);
    CHECK(state.blocks[1].arguments[0].first == "way");
    CHECK((state.blocks[1].arguments[0].second == "left" || state.blocks[1].arguments[0].second == "right"));
    CHECK(state.blocks[1].ms == 0.0);
    CHECK(state.blocks[1].progress == "0mm of 52mm");
    const int first_item = plan.rule(state.blocks[1].item).line;
    for (int k = 0; k < 4; ++k) {
        run.next();
    }
    CHECK(state_of(*run.mind(), run.look()).blocks[1].ms == doctest::Approx(4.0 * robot.look_ms));
    CHECK(state_of(*run.mind(), run.look()).blocks[1].way_mm > 1.0);
    Stop turning = stop_at_line(plan, first_item + 3);
    REQUIRE(go_on(run, turning));
    CHECK(plan.rule(run.answer().rule).line == first_item + 3);

    // A rule that hands the look over acts too, though another tells the motors.
    run.to_look(0);
    std::vector<int> lines;
    for (const RuleInfo& rule : plan.rules()) {
        if (rule.acts.find("do take") != std::string::npos) {
            lines.push_back(rule.line);
        }
    }
    REQUIRE(lines.size() == 2);
    std::vector<Stop> both = {stop_at_line(plan, lines[0]), stop_at_line(plan, lines[1])};
    const std::optional<std::size_t> which = go_on(run, both);
    REQUIRE(which);
    CHECK(state_of(*run.mind(), run.look()).blocks.back().block == "take");
    CHECK(state_of(*run.mind_before(), run.look()).blocks.back().block != "take");
}

TEST_CASE("a pid and vars are told as they stand") {
    const Course course = fixtures::board({"M 0,300 H 1000"});
    const Robot robot = fixtures::ideal_robot(3);
    const Scene scene(course, robot);
    const Plan plan = fixtures::compiled("plan \"told\"\nsensors 3\nvar laps = 3\nvar gone = 12mm\nhabit follow {\n"
                                         "  else -> wheels(30 - pid(offset, 20, 2, 0), 30)\n}\n");
    SteppedRun run(scene, plan);
    CHECK(state_of(*run.mind_before(), run.look()).blocks.empty());
    REQUIRE(run.to_look(7));
    const PlanState state = state_of(*run.mind(), run.look());
    CHECK(state.vars == std::vector<std::pair<std::string, std::string>>{{"laps", "3"}, {"gone", "12mm"}});
    REQUIRE(state.pids.size() == 1);
    CHECK(state.pids[0].line == 6);
    CHECK(state.pids[0].text == "pid(offset, 20, 2, 0)");
    CHECK(state.pids[0].error == run.look().offset);
    CHECK(30.0 - state.pids[0].value == doctest::Approx(run.answer().left_pct));
}

TEST_CASE("stops for what there is not are refused with the nearest that there is") {
    const FernHouse f;
    CHECK(message_of([&] { stop_at_line(f.plan, 5); }).find("the next stands at line 8") != std::string::npos);
    CHECK(message_of([&] { stop_at_line(f.plan, 99); }).find("the last stands at line 11") != std::string::npos);
    CHECK(message_of([&] { stop_in_block(f.plan, "folow"); }).find("did you mean") != std::string::npos);
    CHECK(message_of([&] { stop_at_place(f.course, "dok"); }).find("did you mean `dock`") != std::string::npos);
    CHECK(message_of([&] { stop_at_junction(f.scene, "frk"); }).find("its junctions are") != std::string::npos);
}

TEST_CASE("a stop made for one plan does not ask another that has taken its place") {
    const FernHouse f;
    SteppedRun run(f.scene, f.plan);
    std::vector<Stop> stops = {stop_at_line(f.plan, 9), stop_in_block(f.plan, "follow"), when(f.plan, "[#.]")};
    run.instead(instead::OtherPlan{f.other("right-first")});
    CHECK_FALSE(go_on(run, stops));
    CHECK(run.is_over());
}
