/// Slips planted in right plans: is the rule named that was spoilt, is the change listed that mends it?

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <map>
#include <optional>
#include <random>
#include <set>
#include <sstream>

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
    const char* folder = "data/fern-house/";
    bool is_unseen = false; ///< it was written after most of the changes that are tried had been chosen
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

/// Plans and courses of other hands, as typed: not laid out, in other ways of thinking.
const std::vector<Right> other_rights = {
    {"count", "serre", "sprig-4", "tests/trial/yards/"},
    {"stages", "serre", "sprig-5", "tests/trial/yards/"},
    {"by-the-wheels", "serre", "sprig-2", "tests/trial/yards/"},
    {"deliver", "yard", "sprig-3", "tests/trial/yards/"},
    {"by-readings", "back-yard", "sprig-5", "tests/trial/yards/", true},
    {"home", "back-yard", "sprig-3", "tests/trial/yards/", true},
    {"one-after-another", "back-yard", "sprig-4", "tests/trial/yards/", true},
};

struct Rates {
    int slips = 0;
    int named = 0;
    int listed = 0;
    int first = 0;
    std::map<std::string, std::array<int, 4>> by_kind;

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

    void add(const Rates& other) {
        slips += other.slips;
        named += other.named;
        listed += other.listed;
        first += other.first;
        for (const auto& [kind, n] : other.by_kind) {
            for (std::size_t i = 0; i < n.size(); ++i) {
                by_kind[kind][i] += n[i];
            }
        }
    }

    std::string text() const {
        std::string out = fmt::format("{} slips: named {:.0f} %, listed {:.0f} %, first {:.0f} %\n", slips,
                                      100.0 * named / slips, 100.0 * listed / slips, 100.0 * first / slips);
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

std::multiset<std::string> lines_of(const std::string& text) {
    std::istringstream in(text);
    std::multiset<std::string> lines;
    for (std::string line; std::getline(in, line);) {
        lines.insert(line);
    }
    return lines;
}

/// Whether a cure undoes the slip: it makes the text what it was, puts the line that was left out back before or behind
/// a neighbour, or changes the same word.
bool undoes(const Cure& cure, const fixtures::Slip& slip) {
    return cure.text == slip.before || fixtures::same_word(cure.text, slip) ||
           (cure.kind == CureKind::added && lines_of(cure.text) == lines_of(slip.before));
}

} // namespace

namespace {

std::string folder_of(const Right& right) { return right.folder; }

/// A right plan with the cases that it passes.
struct Sound {
    explicit Sound(const Right& right)
        : text(read_file(folder_of(right) + right.plan + ".plan")), plan(compile_plan(text, "plan").plan.value()),
          ground(load_trip_ground(folder_of(right) + right.course + ".course.toml",
                                  load_robot("data/fern-house/" + std::string(right.robot) + ".robot.toml"))) {
        TripReportOptions options;
        options.repeats = 5;
        options.cures = false;
        const TripReport base = report_trips(ground.cases(), {plan}, options);
        for (std::size_t i = 0; i < ground.cases().size(); ++i) {
            if (base.pilots[0].cases[i].all_passed()) {
                cases.push_back(ground.cases()[i]);
            }
        }
        REQUIRE_MESSAGE(!cases.empty(), right.plan);
    }

    std::string text;
    Plan plan;
    TripGround ground;
    std::vector<TripCase> cases;
};

/// A plan with a slip, and the first case that it never passes.
struct Failing {
    fixtures::Slip slip;
    Plan plan;
    std::size_t number = 0; ///< of the case
    CaseReport report;
};

using Planter = std::optional<fixtures::Slip> (*)(const std::string& text, std::mt19937& random);

std::optional<Failing> planted(const Sound& sound, std::mt19937& random, Planter plant = fixtures::plant_slip) {
    const auto slip = plant(sound.text, random);
    const Compiled spoilt = slip ? compile_plan(slip->after, "plan") : Compiled{};
    if (!spoilt.plan) {
        return std::nullopt;
    }
    TripReportOptions options;
    options.cures = false;
    options.repeats = 3;
    TripReport report = report_trips(sound.cases, {*spoilt.plan}, options);
    auto& of_plan = report.pilots[0].cases;
    const auto failed = std::find_if(of_plan.begin(), of_plan.end(), [](const CaseReport& c) { return c.passed == 0; });
    if (failed == of_plan.end()) {
        return std::nullopt;
    }
    return Failing{*slip, *spoilt.plan, static_cast<std::size_t>(failed - of_plan.begin()), std::move(*failed)};
}

/// Whether the junction is told at which it left the way of the right plan; nothing when it left it at none. A run that
/// was cut short by its time has not chosen yet where it stands.
std::optional<bool> tells_junction(const Right& right, const Sound& sound, const Failing& it, bool tells_all) {
    const TripCase& one = sound.cases[it.number];
    const TripResult& failed = it.report.result;
    RunOptions as_failed;
    as_failed.seed = failed.run.seed;
    const TripResult whole = take_trip(*one.scene, sound.plan, one.trip, as_failed);
    const std::string junction = leaves_at(one, whole.run, failed.run);
    if (!whole.passed || junction.empty() || failed.run.ending == Ending::time_over) {
        return std::nullopt;
    }
    const std::string told = failed.parting ? failed.parting->junction : "nothing";
    if (tells_all && told != junction) {
        MESSAGE(fmt::format("{}: {}: left at {}, told {}", right.plan, it.slip.what, junction, told));
    }
    return told == junction;
}

const bool tells_all = std::getenv("VTURN_TELL") != nullptr;

} // namespace

namespace {

/// Plants slips that fail into one right plan, and takes what is said of each.
void take_slips(const Right& right, int wanted, Planter plant, Rates& rates) {
    const Sound sound(right);
    std::mt19937 random(std::hash<std::string>{}(right.plan) % 1000 + 17);
    int taken = 0;
    for (int tries = 0; tries < 40 * wanted && taken < wanted; ++tries) {
        std::optional<Failing> failing = planted(sound, random, plant);
        if (!failing) {
            continue;
        }
        ++taken;
        const fixtures::Slip& slip = failing->slip;
        TripResult& failed = failing->report.result;
        const TripCase& one = sound.cases[failing->number];
        RunOptions run;
        run.seed = failed.run.seed;
        CureFinder finder(failing->plan, sound.cases);
        const CureSearch search = finder.find(one, failed, run);
        if (!search.cures.empty()) {
            prefer_decision(*one.scene, failing->plan, failed, search.cures.front(), run);
        }
        const bool named = failed.parting && has_line(failing->plan, *failed.parting, slip.lines);
        const auto at = std::find_if(search.cures.begin(), search.cures.end(),
                                     [&](const Cure& cure) { return undoes(cure, slip); });
        const bool listed = at != search.cures.end();
        rates.take(slip.kind, named, listed, listed && at == search.cures.begin());
        if (tells_all) {
            const int decided =
                failed.parting && failed.parting->rule != no_rule ? failing->plan.rule(failed.parting->rule).line : 0;
            MESSAGE(fmt::format("{}: {}{}{}; decided line {} ({}), {} cures, {}", right.plan, slip.what,
                                named ? "" : "  NOT NAMED",
                                !listed                      ? "  NOT LISTED"
                                : at == search.cures.begin() ? ""
                                                             : "  NOT FIRST",
                                decided, failed.parting ? failed.parting->otherwise : "", search.cures.size(),
                                search.cures.empty() ? std::string{} : describe(search.cures.front())));
        }
    }
}

} // namespace

TEST_CASE("of planted slips the spoilt rule is named and the change that mends it listed" *
          doctest::skip(fixtures::sanitized())) {
    const int wanted = fixtures::rounds(12, 1, 1); // of each plan
    const bool all = wanted > 1;                   // else of every third
    Rates rates;
    int plans = 0;
    for (const Right& right : rights) {
        if (all || (&right - rights.data()) % 3 == 0) {
            ++plans;
            take_slips(right, wanted, fixtures::plant_slip, rates);
        }
    }
    MESSAGE(rates.text());
    CHECK(rates.slips > 0.7 * plans * wanted);
    CHECK(rates.named > 0.8 * rates.slips);
    CHECK(rates.listed > 0.9 * rates.slips);
    CHECK(rates.first > 0.6 * rates.slips);
}

TEST_CASE("of slips of other hands in plans of other hands too" * doctest::skip(fixtures::sanitized())) {
    const int wanted = fixtures::rounds(40, 1, 1); // of each plan
    Rates rates;
    Rates unseen;
    for (const Right& right : other_rights) {
        Rates own;
        take_slips(right, wanted, fixtures::plant_other_slip, own);
        rates.add(own);
        if (right.is_unseen) {
            unseen.add(own);
        }
    }
    MESSAGE(rates.text());
    MESSAGE("of the last three plans alone ", unseen.text());
    CHECK(rates.slips > 0.7 * static_cast<double>(other_rights.size()) * wanted);
    const double few = wanted < 40 ? 0.25 : 0.0; // so few vary more
    CHECK(rates.named > (0.65 - few) * rates.slips);
    CHECK(rates.listed > (0.8 - few) * rates.slips);
    CHECK(rates.first > (0.6 - few) * rates.slips);
}

namespace {

/// Whether two plans differ in nothing but how much numbers are.
bool differ_in_numbers_alone(std::string one, std::string other) {
    const auto is_of_number = [](char c) { return (c >= '0' && c <= '9') || c == '.'; };
    // Marks of patterns stay: the points between brackets are marks.
    const auto strip = [&](std::string& text) {
        bool in_marks = false;
        std::erase_if(text, [&](char c) {
            in_marks = c == '[' || (in_marks && c != ']');
            return !in_marks && is_of_number(c);
        });
    };
    strip(one);
    strip(other);
    return one == other;
}

} // namespace

TEST_CASE("of two slips in plans of other hands both are found" *
          doctest::skip(fixtures::sanitized() ||
                        fixtures::rounds(1, 0, 0) == 0)) { // two minutes; added_lines_test has one
    int slips = 0;
    int cured = 0;
    int found = 0;
    for (const Right& right : other_rights) {
        const Sound sound(right);
        std::mt19937 random(std::hash<std::string>{}(right.plan) % 1000 + 41);
        int taken = 0;
        for (int tries = 0; tries < 200 && taken < 6; ++tries) {
            const auto first = fixtures::plant_other_slip(sound.text, random);
            const auto both = first ? fixtures::plant_other_slip(first->after, random) : std::nullopt;
            const Compiled spoilt = both ? compile_plan(both->after, "plan") : Compiled{};
            if (!spoilt.plan || first->lines == both->lines) {
                continue;
            }
            const TripCase& one = sound.cases.front();
            const TripResult failed = take_trip(*one.scene, *spoilt.plan, one.trip);
            if (failed.passed) {
                continue;
            }
            const std::vector<Cure> cures = find_cures(one, *spoilt.plan, failed, {});
            const auto is_of_both = [](const Cure& cure) { return cure.change.find(", then ") != std::string::npos; };
            // One change is enough for many a pair, of which one slip alone makes the trip fail.
            if (!cures.empty() && cures.front().passes && !is_of_both(cures.front())) {
                continue;
            }
            ++taken;
            ++slips;
            cured += !cures.empty() && cures.front().passes ? 1 : 0;
            const bool is_found = std::any_of(cures.begin(), cures.end(), [&](const Cure& cure) {
                return cure.passes && differ_in_numbers_alone(cure.text, sound.text);
            });
            found += is_found ? 1 : 0;
            if (tells_all) {
                MESSAGE(fmt::format("{}: {}, {}: {}, {} cures, {}", right.plan, first->what, both->what,
                                    is_found ? "found" : "NOT FOUND", cures.size(),
                                    cures.empty() ? std::string{} : describe(cures.front())));
            }
        }
    }
    MESSAGE(fmt::format("{} pairs: cured {:.0f} %, both mended {:.0f} %", slips, 100.0 * cured / slips,
                        100.0 * found / slips));
    CHECK(slips > 20);
    CHECK(5 * cured > 2 * slips);
}

TEST_CASE("of planted slips the junction is told at which the way was left" * doctest::skip(fixtures::sanitized())) {
    const int wanted = fixtures::rounds(60, 1, 1); // of each plan
    int slips = 0;
    int at_junction = 0;
    int told = 0;
    for (const Right& right : rights) {
        const bool has_junctions =
            std::set<std::string>{"crossing", "turns", "glass-wing", "mist-round", "fern-house"}.contains(right.course);
        if (!has_junctions) {
            continue;
        }
        const Sound sound(right);
        std::mt19937 random(std::hash<std::string>{}(right.plan) % 1000 + 4711);
        int taken = 0;
        for (int tries = 0; tries < 40 * wanted && taken < wanted; ++tries) {
            if (const std::optional<Failing> failing = planted(sound, random)) {
                ++taken;
                ++slips;
                const std::optional<bool> is_told = tells_junction(right, sound, *failing, tells_all);
                at_junction += is_told ? 1 : 0;
                told += is_told.value_or(false) ? 1 : 0;
            }
        }
    }
    MESSAGE(told, " of ", at_junction, " that leave the way at a junction tell which, of ", slips, " slips");
    CHECK(at_junction >= wanted);
    CHECK(told >= 0.97 * at_junction);
}
