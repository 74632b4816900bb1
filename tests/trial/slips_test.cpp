/// Slips planted in right plans: is the rule named that was spoilt, is the change listed that mends it?

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <map>
#include <random>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/rounds.hpp"
#include "support/slips.hpp"
#include "trial/prefer_decision.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/trial/trip_report.hpp"

using namespace vast_turn;

namespace {

struct Right {
    const char* plan;
    const char* course;
    const char* robot;
};

/// Plans of many styles, each with a course on which it passes.
const std::vector<Right> rights = {
    {"plans/edge-left", "aisle", "sprig-1"},
    {"plans/two-beside", "aisle", "sprig-2"},
    {"plans/two-proportional", "aisle", "sprig-2-close"},
    {"plans/three-table", "aisle", "sprig-3"},
    {"plans/three-pi", "aisle", "sprig-3"},
    {"plans/five-table", "aisle", "sprig-5"},
    {"plans/five-pid", "aisle", "sprig-5"},
    {"plans/search", "drain", "sprig-5"},
    {"plans/gap-straight", "straight-drain", "sprig-3"},
    {"plans/turn-by-wheels", "crossing", "sprig-3"},
    {"plans/turn-to-line", "crossing", "sprig-3"},
    {"plans/colour-rules", "turns", "sprig-3"},
    {"plans/colour-list", "turns", "sprig-3"},
    {"plans/u-turn", "dead-end", "sprig-3"},
    {"plans/turn-back", "can", "sprig-3"},
    {"plans/stages", "stages", "sprig-3"},
    {"plans/laps", "mist-loop", "sprig-5"},
    {"rounds", "glass-wing", "sprig-5"},
    {"plates", "mist-round", "sprig-5"},
    {"left-first", "fern-house", "sprig-2"},
};

struct Rates {
    int slips = 0;
    int named = 0;
    int listed = 0;
    int first = 0;
    std::map<std::string, std::array<int, 4>> by_kind;

    int at_junction = 0;
    int junction_right = 0;

    void take(const std::string& kind, bool is_named, bool is_listed, bool is_first) {
        ++slips;
        named += is_named ? 1 : 0;
        listed += is_listed ? 1 : 0;
        first += is_first ? 1 : 0;
        std::array<int, 4>& own = by_kind[kind];
        own[0] += 1;
        own[1] += is_named ? 1 : 0;
        own[2] += is_listed ? 1 : 0;
        own[3] += is_first ? 1 : 0;
    }

    std::string text() const {
        std::string out = fmt::format("{} slips: named {:.0f} %, listed {:.0f} %, first {:.0f} %\n", slips,
                                      100.0 * named / slips, 100.0 * listed / slips, 100.0 * first / slips);
        out +=
            fmt::format("  the junction is right in {} of {} that leave the way at one\n", junction_right, at_junction);
        for (const auto& [kind, n] : by_kind) {
            out += fmt::format("  {:10} {:3}: named {:3}, listed {:3}, first {:3}\n", kind, n[0], n[1], n[2], n[3]);
        }
        return out;
    }
};

bool has_line(const Plan& plan, const Parting& parting, const std::vector<int>& lines) {
    std::vector<RuleId> rules = parting.called_by;
    rules.push_back(parting.rule);
    rules.push_back(parting.better); // the spoilt one may be the one that should have acted
    return std::any_of(rules.begin(), rules.end(), [&](RuleId rule) {
        return rule != no_rule && std::find(lines.begin(), lines.end(), plan.rule(rule).line) != lines.end();
    });
}

/// The junction at which a spoilt run leaves the way of the right one; nothing when it leaves it on a line.
std::string leaves_at(const TripCase& one, const Run& right, const Run& spoilt) {
    const MatchedRoute a = match_run(*one.scene, right);
    const MatchedRoute b = match_run(*one.scene, spoilt);
    for (std::size_t i = 0; i < std::min(a.choices.size(), b.choices.size()); ++i) {
        if (a.choices[i].node != b.choices[i].node || a.choices[i].from != b.choices[i].from) {
            return "";
        }
        if (a.choices[i].to != b.choices[i].to) {
            return a.told && b.told ? one.scene->graph().node(a.choices[i].node).name : std::string{};
        }
    }
    return "";
}

/// Whether a cure undoes the slip: it makes the text what it was, or changes the same word of it.
bool undoes(const Cure& cure, const fixtures::Slip& slip) {
    return cure.text == slip.before || fixtures::same_word(cure.text, slip);
}

} // namespace

TEST_CASE("of planted slips the spoilt rule is named and the change that mends it listed" *
          doctest::skip(fixtures::sanitized)) {
    const int wanted = fixtures::rounds(12, 1, 1); // of each plan
    const bool tell = std::getenv("VTURN_TELL") != nullptr;
    Rates rates;
    for (const Right& right : rights) {
        const std::string folder = "data/fern-house/";
        const Robot robot = load_robot(folder + right.robot + ".robot.toml");
        const TripGround ground = load_trip_ground(folder + right.course + ".course.toml", robot);
        const std::string text = read_file(folder + right.plan + ".plan");
        const Plan plan = compile_plan(text, "plan").plan.value();
        TripReportOptions options;
        options.repeats = 5;
        options.cures = false;
        std::vector<TripCase> cases;
        const TripReport base = report_trips(ground.cases(), {plan}, options);
        for (std::size_t i = 0; i < ground.cases().size(); ++i) {
            if (base.pilots[0].cases[i].all_passed()) {
                cases.push_back(ground.cases()[i]);
            }
        }
        REQUIRE_MESSAGE(!cases.empty(), right.plan);
        std::mt19937 random(std::hash<std::string>{}(right.plan) % 1000 + 17);
        int taken = 0;
        for (int tries = 0; tries < 40 * wanted && taken < wanted; ++tries) {
            const auto slip = fixtures::plant_slip(text, random);
            if (!slip) {
                continue;
            }
            const Compiled spoilt = compile_plan(slip->after, "plan");
            if (!spoilt.plan) {
                continue;
            }
            options.cures = false;
            options.repeats = 3;
            TripReport report = report_trips(cases, {*spoilt.plan}, options);
            auto& of_plan = report.pilots[0].cases;
            const auto failed =
                std::find_if(of_plan.begin(), of_plan.end(), [](const CaseReport& c) { return c.passed == 0; });
            if (failed == of_plan.end()) {
                continue;
            }
            ++taken;
            const auto number_of = static_cast<std::size_t>(failed - of_plan.begin());
            RunOptions as_failed;
            as_failed.seed = failed->result.run.seed;
            const TripResult sound = take_trip(*cases[number_of].scene, plan, cases[number_of].trip, as_failed);
            if (const std::string junction = leaves_at(cases[number_of], sound.run, failed->result.run);
                sound.passed && !junction.empty()) {
                ++rates.at_junction;
                rates.junction_right += failed->result.parting && failed->result.parting->junction == junction ? 1 : 0;
                if (tell && !(failed->result.parting && failed->result.parting->junction == junction)) {
                    MESSAGE(std::string(right.plan)
                            << ": " << slip->what << ": left at " << junction << ", told "
                            << (failed->result.parting ? failed->result.parting->junction : "nothing"));
                }
            }
            const auto number = static_cast<std::size_t>(failed - of_plan.begin());
            RunOptions run;
            run.seed = failed->result.run.seed;
            CureFinder finder(*spoilt.plan, cases);
            const CureSearch search = finder.find(cases[number], failed->result, run);
            if (!search.cures.empty()) {
                prefer_decision(*cases[number].scene, *spoilt.plan, failed->result, search.cures.front(), run);
            }
            const bool named = failed->result.parting && has_line(*spoilt.plan, *failed->result.parting, slip->lines);
            const auto at = std::find_if(search.cures.begin(), search.cures.end(),
                                         [&](const Cure& cure) { return undoes(cure, *slip); });
            const bool listed = at != search.cures.end();
            rates.take(slip->kind, named, listed, listed && at == search.cures.begin());
            if (tell) {
                const int decided = failed->result.parting && failed->result.parting->rule != no_rule
                                        ? spoilt.plan->rule(failed->result.parting->rule).line
                                        : 0;
                MESSAGE(fmt::format("{}: {}{}{}; decided line {} ({}), {} cures, {}", right.plan, slip->what,
                                    named ? "" : "  NOT NAMED",
                                    !listed                      ? "  NOT LISTED"
                                    : at == search.cures.begin() ? ""
                                                                 : "  NOT FIRST",
                                    decided, failed->result.parting ? failed->result.parting->otherwise : "",
                                    search.cures.size(),
                                    search.cures.empty() ? std::string{} : describe(search.cures.front())));
            }
        }
    }
    MESSAGE(rates.text());
    CHECK(rates.slips > 14 * wanted);
    CHECK(rates.junction_right >= 0.9 * rates.at_junction);
    CHECK(rates.named > 0.7 * rates.slips);
    CHECK(rates.listed > 0.9 * rates.slips);
    CHECK(rates.first > 0.6 * rates.slips);
}
