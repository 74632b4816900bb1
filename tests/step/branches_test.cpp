/// Branches of a run, and where two runs part.

#include "vast_turn/step/branches.hpp"

#include <doctest/doctest.h>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"

using namespace vast_turn;

TEST_CASE("branches part from the one in hand, keep what was done in them, and are found by name") {
    const fixtures::FernHouse f;
    Branches branches(SteppedRun(f.scene, f.plan));
    CHECK(branches.here().name == "trunk");
    branches.here().run.to_time(3.9);
    const std::size_t at = branches.here().run.at();
    RunBranch& right = branches.part("right");
    right.run.instead(instead::OtherPlan{f.other("right-first")});
    right.run.to_end();
    CHECK(right.from == "trunk");
    CHECK(right.look == at);
    CHECK(right.run.run().visits.back().place == 3);
    branches.part("deeper");
    CHECK(branches.here().from == "right");
    CHECK(branches.here().run.is_over());
    CHECK(branches.take("trunk").run.at() == at);
    branches.here().run.to_end();
    CHECK(branches.here().run.run().visits.back().place == 2);
    CHECK(branches.all().size() == 3);
    CHECK(fixtures::message_of([&] { branches.part("right"); }).find("already") != std::string::npos);
    CHECK(fixtures::message_of([&] { branches.take("rihgt"); }).find("did you mean `right`") != std::string::npos);
    CHECK(branches.here().name == "trunk");

    const RunsApart apart = runs_apart(branches.here().run.run(), right.run.run());
    REQUIRE(apart.look);
    CHECK(*apart.look >= at);
    REQUIRE(apart.way);
    CHECK(*apart.way > *apart.look);
    CHECK(apart.most_mm > 300.0);
    CHECK(apart.way_t_s == branches.here().run.run().looks[*apart.way].t_s);
    const RunsApart none = runs_apart(right.run.run(), right.run.run());
    CHECK_FALSE(none.look);
    CHECK_FALSE(none.way);
    CHECK(none.most_mm == 0.0);
}

TEST_CASE("a run that ends before another parts from it there") {
    const fixtures::FernHouse f;
    const Run whole = drive(f.scene, f.plan);
    const Run half = drive(f.scene, f.plan, {.time_limit_s = 2.0});
    const RunsApart apart = runs_apart(half, whole);
    REQUIRE(apart.look);
    CHECK(*apart.look == half.looks.size());
    CHECK(apart.t_s == doctest::Approx(2.0));
}

TEST_CASE("there is an end to branches") {
    const Course course = fixtures::board({"M 0,300 H 1000"});
    const Robot robot = fixtures::ideal_robot(2);
    const Scene scene(course, robot);
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "else -> still"));
    Branches branches(SteppedRun(scene, plan, {.time_limit_s = 0.1}));
    for (int i = 1; i < 64; ++i) {
        branches.part(std::to_string(i));
    }
    CHECK(fixtures::message_of([&] { branches.part("one more"); }).find("there are 64 branches") != std::string::npos);
}

TEST_CASE("branches that would take too much are refused") {
    const Course course = fixtures::board({"M 0,300 H 1000"});
    const Robot robot = fixtures::ideal_robot(2);
    const Scene scene(course, robot);
    Branches branches(SteppedRun(scene, fixtures::compiled(fixtures::plan_text(2, "else -> still"))), 9'000'000);
    branches.here().run.to_time(50.0);
    const std::string message = fixtures::message_of([&] {
        for (int i = 0; i < 60; ++i) {
            branches.part(std::to_string(i));
        }
    });
    CHECK(message.find("the branches would take 9 MB") != std::string::npos);
    CHECK(branches.all().size() > 2);
    CHECK(branches.all().size() < 40);
}
