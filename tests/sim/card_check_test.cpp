#include "vast_turn/sim/card_check.hpp"

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/base/problem.hpp"

using namespace vast_turn;

namespace {

const char* const card_rules = "[#.] mirrored -> pivot(left, 40)\n[##] -> still\nelse -> ahead(50)";

std::vector<std::string> remarks(const std::vector<std::string>& faults,
                                 const Robot& robot = fixtures::ideal_robot(2)) {
    std::vector<std::string> list;
    for (const CardStep& step :
         card_check(robot, fixtures::compiled(fixtures::plan_text(2, card_rules)), parse_faults(faults, 2))) {
        list.push_back(step.remark);
    }
    return list;
}

} // namespace

TEST_CASE("a sound robot: the lamp over the card lights, the wheels turn as asked") {
    CHECK(remarks({}) == std::vector<std::string>{"", "", "", ""});
    const auto steps = card_check(fixtures::ideal_robot(2), fixtures::compiled(fixtures::plan_text(2, card_rules)));
    CHECK(to_marks(steps[1].pattern) == "#.");
    CHECK(steps[1].right_pct == 40.0);
    CHECK(steps[1].left_mm_s == 0.0);
    CHECK(steps[1].right_mm_s > 0.0);
    CHECK(steps[3].card_under == std::vector<int>{1, 2});
}

TEST_CASE("a robot wired wrong shows what a person with a card would see") {
    CHECK(remarks({"swapped:1,2"})[1] == "lamp 1 stays dark; lamp 2 is lit");
    CHECK(remarks({"swapped:1,2"})[0].empty());
    CHECK(remarks({"sensor1=dead"})[0] == "lamp 1 is lit");
    CHECK(remarks({"sensor2=stuck:0.9"})[2] == "lamp 2 stays dark");
    CHECK(remarks({"right_motor=reversed"})[0] == "the right wheel should turn forwards, it turns backwards");
    CHECK(remarks({"left_motor=weak:0.5"})[0] == "the left wheel turns at 50 % of its speed");
    CHECK(remarks({"motors=swapped"})[1] == "the left wheel should turn not at all, it turns forwards; the right wheel "
                                            "should turn forwards, it turns not at all");
}

TEST_CASE("plan, robot and calibration must be for the same number of sensors") {
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, card_rules));
    CHECK_THROWS_AS(card_check(fixtures::ideal_robot(3), plan), InputError);
    CHECK_THROWS_AS(card_check(fixtures::ideal_robot(2), plan, {}, Calibration{{{}, {}, {}}}), InputError);
}
