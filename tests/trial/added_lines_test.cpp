/// Cures that are more than another number: words taken for one another, lines that are missing.

#include <algorithm>
#include <optional>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "trial/plan_changes.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/trial/trip_report.hpp"

using namespace vast_turn;

namespace {

const std::string yards = "tests/trial/yards/";

/// A plan with one part of its text otherwise, driven over a course, and what would cure it.
struct Spoilt {
    Spoilt(const std::string& plan, const std::string& course, const std::string& robot, const std::string& was,
           const std::string& now)
        : right(read_file(yards + plan + ".plan")),
          ground(load_trip_ground(yards + course + ".course.toml",
                                  load_robot("data/fern-house/" + robot + ".robot.toml"))) {
        std::string text = right;
        const std::size_t at = text.find(was);
        REQUIRE(at != std::string::npos);
        text.replace(at, was.size(), now);
        const Compiled compiled = compile_plan(text, "spoilt");
        REQUIRE(compiled.plan);
        TripReportOptions without_cures;
        without_cures.cures = false;
        const TripReport sound = report_trips(ground.cases(), {fixtures::compiled(right)}, without_cures);
        std::vector<TripCase> passed;
        for (std::size_t i = 0; i < ground.cases().size(); ++i) {
            if (sound.pilots[0].cases[i].all_passed()) {
                passed.push_back(ground.cases()[i]);
            }
        }
        const TripReport report = report_trips(passed, {*compiled.plan});
        for (const CaseReport& one : report.pilots[0].cases) {
            if (cures.empty()) {
                cures = one.cures;
                parting = one.result.parting;
            }
        }
    }

    std::size_t place_of(const std::string& change) const {
        const auto at = std::find_if(cures.begin(), cures.end(), [&](const Cure& c) { return c.change == change; });
        return static_cast<std::size_t>(at - cures.begin());
    }

    std::string right;
    TripGround ground;
    std::vector<Cure> cures;
    std::optional<Parting> parting; ///< of the same trip
};

} // namespace

TEST_CASE("words that were taken for one another are exchanged back" * doctest::skip(fixtures::sanitized())) {
    struct Slip {
        const char* plan;
        const char* course;
        const char* robot;
        const char* was;
        const char* now;
        const char* cure;
    };
    const Slip slips[] = {
        {"by-readings", "back-yard", "sprig-5", "met == 1 or met == 4", "met == 1 and met == 4",
         "line 25: and becomes or"},
        {"stages", "serre", "sprig-5", "do middle till seen >= 4", "do middle till seen <= 4",
         "line 23: <= becomes >="},
        {"stages", "serre", "sprig-5", "become south", "become middle", "line 13: middle becomes south"},
        {"count", "serre", "sprig-4", "crossings == 1", "crossings == -1", "line 27: -1 becomes 1"},
        {"home", "back-yard", "sprig-3", "set corner = corner + 1", "set corner = corner + 2", "line 10: 2 becomes 1"},
    };
    for (const Slip& slip : slips) {
        if (&slip - slips >= fixtures::rounds(5, 3, 0)) {
            break;
        }
        CAPTURE(slip.now);
        const Spoilt spoilt(slip.plan, slip.course, slip.robot, slip.was, slip.now);
        const std::size_t place = spoilt.place_of(slip.cure);
        CHECK(place < 3); // among the first
        REQUIRE(place < spoilt.cures.size());
        CHECK(spoilt.cures[place].counts());
    }
}

TEST_CASE("a line that was left out is offered where it is missing" * doctest::skip(fixtures::sanitized())) {
    struct Slip {
        const char* plan;
        const char* course;
        const char* robot;
        const char* line;
        const char* cure;
    };
    const Slip slips[] = {
        {"count", "serre", "sprig-4", "    as edge\n", "line 13 added: as edge"},
        {"by-the-wheels", "serre", "sprig-2", "    do about(right)\n", "line 9 added: do about(right)"},
        {"deliver", "yard", "sprig-3", "    do swing(way)\n}\n\nerrand swing", "line 32 added: do swing(way)"},
    };
    for (const Slip& slip : slips) {
        CAPTURE(slip.line);
        const std::string line = slip.line;
        const std::size_t ends = line.find('\n') + 1;
        const Spoilt spoilt(slip.plan, slip.course, slip.robot, line, line.substr(ends));
        const std::size_t place = spoilt.place_of(slip.cure);
        REQUIRE(place < spoilt.cures.size());
        CHECK(spoilt.cures[place].kind == CureKind::added);
        CHECK(spoilt.cures[place].text == spoilt.right);
    }
}

TEST_CASE("a plan that never halts is offered a halt where the tape ends" * doctest::skip(fixtures::sanitized())) {
    const Spoilt spoilt("home", "back-yard", "sprig-3", "    [...] lasting 14 looks -> note(\"home\"), halt\n", "");
    REQUIRE(!spoilt.cures.empty());
    CHECK(spoilt.place_of("line 9 added: [...] lasting 25 looks -> halt") < spoilt.cures.size());
}

TEST_CASE("whole counts are not tried in fractions, and no change is offered twice") {
    const Plan plan = fixtures::compiled("plan \"p\"\nsensors 3\nvar laps = 0\nhabit follow {\n"
                                         "    seen == 3 and laps < 4 and sensor(2) > 0.5 -> set laps = laps + 1\n"
                                         "    offset > 0.2 -> bend(9, 43)\n    else -> ahead(38)\n}\n");
    std::vector<PlanChange> changes = PlanChanger(plan).all();
    const auto offered = [&](const std::string& what) {
        return std::any_of(changes.begin(), changes.end(), [&](const PlanChange& c) { return c.what == what; });
    };
    CHECK(offered("line 5: 3 becomes 2"));
    CHECK(offered("line 5: 4 becomes 5"));
    CHECK(offered("line 5: and becomes or"));
    CHECK(offered("line 5: sensor(2) becomes sensor(1)"));
    CHECK(offered("line 6: > becomes <"));
    CHECK(offered("line 6: 0.2 becomes 0.25"));
    CHECK_FALSE(offered("line 5: 3 becomes 3.3"));
    CHECK_FALSE(offered("line 5: 4 becomes 4.4"));
    std::sort(changes.begin(), changes.end(), [](const PlanChange& a, const PlanChange& b) { return a.text < b.text; });
    CHECK(std::adjacent_find(changes.begin(), changes.end(), [](const PlanChange& a, const PlanChange& b) {
              return a.text == b.text;
          }) == changes.end());
}

TEST_CASE("of a plan of thousands of rules no more changes are made than there is room for" *
          doctest::skip(fixtures::sanitized())) {
    std::string rules;
    const int lines = fixtures::rounds(3000, 3000, 700);
    for (int i = 0; i < lines; ++i) {
        rules += "sensor(2) > 0." + std::to_string(1000 + i) + " and seen > 1 -> bend(9, 43)\n";
    }
    const Plan plan = fixtures::compiled(fixtures::plan_text(3, rules + "else -> ahead(38)\n"));
    std::size_t bytes = 0;
    bool has_words = false;
    bool has_numbers = false;
    for (const PlanChange& change : PlanChanger(plan).all()) {
        bytes += change.text.size();
        has_words = has_words || change.kind == CureKind::word;
        has_numbers = has_numbers || change.knob != 0;
    }
    CHECK(bytes < std::size_t{250} * 1000 * 1000);
    CHECK(has_words);
    CHECK(has_numbers);
}

TEST_CASE("a marker that no rule asks for any more gets the rule of another, to the other side too" *
          doctest::skip(fixtures::sanitized())) {
    const Spoilt spoilt("seedlings", "seedlings", "sprig-5", "    fresh (teal lasting 2 looks)    -> do turn(left)\n",
                        "");
    REQUIRE_FALSE(spoilt.cures.empty());
    CHECK(spoilt.cures.front().change == "line 10 added: fresh (teal lasting 2 looks)   -> do turn(left)");
    CHECK(spoilt.cures.front().held == spoilt.cures.front().repeats);
}

TEST_CASE("one number copied into several lines is put right in all of them; counts of looks stay whole" *
          doctest::skip(fixtures::sanitized())) {
    const std::string rules = "    fresh (amber lasting 2 looks)   -> do turn(right)\n"
                              "    fresh (teal lasting 2 looks)    -> do turn(left)\n"
                              "    fresh (magenta lasting 2 looks) -> halt\n";
    std::string slow = rules;
    for (std::size_t at = slow.find(" 2 looks"); at != std::string::npos; at = slow.find(" 2 looks")) {
        slow.replace(at, 8, " 30 looks");
    }
    const Spoilt spoilt("seedlings", "seedlings", "sprig-5", rules, slow);
    REQUIRE_FALSE(spoilt.cures.empty());
    const std::string& change = spoilt.cures.front().change;
    CHECK(change.find("lines 9, 10 and 11: 30 becomes ") == 0);
    CHECK(change.find('.') == std::string::npos);
    const std::string now = change.substr(change.rfind(' ') + 1);
    for (const char* marker : {"amber", "teal", "magenta"}) {
        CHECK(spoilt.cures.front().text.find("fresh (" + (marker + (" lasting " + now)) + " looks)") !=
              std::string::npos);
    }
}

TEST_CASE("no cure gives the wheels more than all their power" * doctest::skip(fixtures::sanitized())) {
    const Spoilt spoilt("seedlings", "seedlings", "sprig-5", "lasting 480ms", "lasting 80ms");
    CHECK(spoilt.place_of("line 22: 80ms becomes 270ms") < spoilt.cures.size()); // as people write it, no 271.5
    for (const Cure& cure : spoilt.cures) {
        CAPTURE(cure.change);
        CHECK(compile_plan(cure.text, "cured").problems.empty());
    }
}

TEST_CASE("where the rule for the middle was left out, going on is offered; who stands still is told since when" *
          doctest::skip(fixtures::sanitized())) {
    const Spoilt spoilt("deliver", "yard", "sprig-3", "    [.#.] -> ahead(pace)\n", "");
    REQUIRE_FALSE(spoilt.cures.empty());
    CHECK(spoilt.cures.front().change == "line 21 added: [.#.] -> ahead(slow)");
    CHECK(spoilt.cures.front().held == spoilt.cures.front().repeats);
    REQUIRE(spoilt.parting);
    CHECK(spoilt.parting->t_s == 0.0);
}

TEST_CASE("going on over the crossing before a turn is offered where it was left out, and leaving the line too" *
          doctest::skip(fixtures::sanitized())) {
    const Spoilt at_once("one-after-another", "back-yard", "sprig-4", "    ahead(28) over 56mm\n    loop", "    loop");
    CHECK(at_once.place_of("line 29 added: ahead(28) over 60mm") < at_once.cures.size());
    CHECK(at_once.place_of("line 32: > becomes <") > 0); // the turn would end at once
    const Spoilt on_the_line("by-readings", "back-yard", "sprig-5", "    rotate(way, 33) over 45deg\n", "");
    CHECK(on_the_line.place_of("line 44 added: rotate(way, 27) over 45deg") < on_the_line.cures.size());
}

TEST_CASE("of two slips both are told where no single change lets the trip pass" *
          doctest::skip(fixtures::sanitized())) {
    const std::string begins = "do swing(right)\n    } else if crossings == 2 {\n        do swing(left)\n    } else if "
                               "crossings == 3 {\n        do swing(";
    std::string wrong = begins;
    wrong.replace(wrong.find("right"), 5, "left");
    const Spoilt spoilt("count", "serre", "sprig-4", begins + "right", wrong + "left");
    REQUIRE_FALSE(spoilt.cures.empty());
    const Cure& both = spoilt.cures.front();
    CHECK(both.change == "line 28: left becomes right, then line 32: left becomes right");
    CHECK(both.text == spoilt.right);
    CHECK(both.line == 28);
    CHECK(both.held == both.repeats);
}
