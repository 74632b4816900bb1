#include "vast_turn/trial/trip_result.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "trial/asked_ifs.hpp"
#include "trial/callers.hpp"
#include "trial/interventions.hpp"
#include "trial/junction_misreads.hpp"
#include "trial/part_finder.hpp"
#include "trial/prefer_decision.hpp"
#include "trial/recorder.hpp"
#include "trial/wanted_way.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/trial/plate_route.hpp"

namespace vast_turn {

namespace {

void check_names(const Course& course, const Trip& trip) {
    std::vector<std::string> known;
    for (const CoursePlace& place : course.places) {
        known.push_back(place.name);
    }
    const auto check = [&](const std::string& name, const char* does) {
        if (course.find_place(name) == nullptr) {
            throw InputError(course.file,
                             fmt::format("trip \"{}\" {} \"{}\", which is no place of the course{}", trip.name, does,
                                         name, did_you_mean(name, known)),
                             known.empty() ? "it has no places" : fmt::format("its places are {}", one_of(known)));
        }
    };
    for (const std::string& name : trip.visits) {
        check(name, "visits");
    }
    for (const std::string& name : trip.never) {
        check(name, "must never come to");
    }
    if (!trip.ends_at.empty()) {
        check(trip.ends_at, "ends at");
    }
}

std::string listed(const std::vector<std::string>& names) {
    return names.empty() ? "no place" : fmt::format("{}", fmt::join(names, ", "));
}

/// What a trip by choices came to: fills in the route and what is wrong with it; returns how many came as expected.
std::size_t judge_choices(const Scene& scene, const Trip& trip, TripResult& result) {
    const RouteGraph& graph = scene.graph();
    result.route = match_run(scene, result.run);
    const MatchedRoute& route = *result.route;
    const std::vector<WantedWay> wanted = wanted_ways(scene.course(), graph, trip);
    const std::size_t good = matched_choices(graph, wanted, route);
    if (!route.told) {
        result.failures.push_back(fmt::format("its route cannot be told: {}", route.why_not));
    } else if (good < wanted.size() || (route.choices.size() != wanted.size() && !trip.then_any)) {
        MatchedRoute rest = route; // what came as expected goes without saying
        rest.choices.erase(rest.choices.begin(), rest.choices.begin() + static_cast<std::ptrdiff_t>(good));
        const std::vector<std::string> missing(trip.choices.begin() + static_cast<std::ptrdiff_t>(good),
                                               trip.choices.end());
        result.failures.push_back(fmt::format(
            "{}went {}; expected {}",
            good > 0 ? fmt::format("after {} choice{} as expected ", good, good == 1 ? "" : "s") : std::string{},
            rest.choices.empty() ? "through no junction" : describe(graph, rest),
            missing.empty() ? std::string("no junction") : fmt::format("{}", fmt::join(missing, ", "))));
    }
    return good;
}

/// The same of its places.
std::size_t judge_places(const Trip& trip, const std::vector<std::string>& route, TripResult& result) {
    for (const std::string& place : trip.never) {
        if (std::find(route.begin(), route.end(), place) != route.end()) {
            result.failures.push_back(fmt::format("came to {}, where it must never be", place));
        }
    }
    const auto parted = std::mismatch(trip.visits.begin(), trip.visits.end(), route.begin(), route.end());
    const bool as_visited = trip.then_any ? parted.first == trip.visits.end() : route == trip.visits;
    if (!as_visited && (trip.choices.empty() || !trip.visits.empty())) {
        result.failures.push_back(fmt::format("visited {}; expected {}", listed(route), listed(trip.visits)));
    }
    return static_cast<std::size_t>(parted.first - trip.visits.begin());
}

/// Since when a run that did not end of itself has gone nowhere: "; it stood still from 0.00 s on". Empty when it
/// drove.
std::string how_it_stayed(const Run& run) {
    const std::size_t first = stays_from(run);
    if (first >= run.looks.size()) {
        return {};
    }
    const LookRecord& last = run.looks.back();
    const LookRecord& stopped = run.looks[first];
    constexpr double turned_deg = 20.0;
    const bool turned = std::abs(last.heading_deg - stopped.heading_deg) > turned_deg;
    return fmt::format("; it {} from {:.2f} s on", turned ? "turned on the spot" : "stood still", stopped.t_s);
}

void judge_ending(const Course& course, const Trip& trip, TripResult& result) {
    const Run& run = result.run;
    if (trip.then_any) {
        return;
    }
    if (run.ending != trip.ends) {
        result.failures.push_back(fmt::format("ended with {} ({}{}); expected {}", name_of(run.ending),
                                              run.ended_because, how_it_stayed(run), name_of(trip.ends)));
    }
    const CoursePlace* end = trip.ends_at.empty() ? nullptr : course.find_place(trip.ends_at);
    if (end != nullptr && length(run.end_at - end->at) > end->radius_mm) {
        result.failures.push_back(
            fmt::format("ended at {:.0f},{:.0f} mm; expected in {}", run.end_at.x, run.end_at.y, trip.ends_at));
    }
    const std::optional<EndSpot>& spot = trip.ends_near;
    if (spot && length(run.end_at - spot->at) > spot->within_mm) {
        result.failures.push_back(fmt::format("ended at {:.0f},{:.0f} mm; expected at {}, {:.0f},{:.0f} mm",
                                              run.end_at.x, run.end_at.y, spot->what, spot->at.x, spot->at.y));
    }
}

/// The last look at which changing to the cured plan still brings the robot on.
Decision last_cured_look(const Scene& scene, const Plan& plan, const Plan& cured, const TripResult& result,
                         const Cure& cure, const RunOptions& options) {
    std::size_t low = 0; // from its begin the cure helps
    // Where it stays from some look on, that one tells more than the last that would still have helped.
    std::size_t high = std::min({result.parting->left_way + 1, result.run.looks.size(), stays_from(result.run) + 1});
    while (high - low > 1) {
        const std::size_t middle = low + (high - low) / 2;
        const bool helps =
            try_trip_changed(scene, plan, cured, middle, result.trip, options).as_expected > result.as_expected;
        (helps ? low : high) = middle;
    }
    const std::vector<LookRecord>& looks = result.run.looks;
    Decision decision{low, looks[low].rule, no_rule, "line " + std::to_string(cure.line) + " as the first cure has it"};
    for (std::size_t i = 0; i < plan.rules().size() && looks[low].rule != no_rule; ++i) {
        const bool other = plan.rule(looks[low].rule).line != cure.line;
        if (other && plan.rules()[i].line == cure.line && decision.better == no_rule) {
            decision.better = RuleId(i);
        }
    }
    return decision;
}

} // namespace

void note_callers(const Scene& scene, const Plan& plan, TripResult& result, const RunOptions& options) {
    Parting& parting = *result.parting;
    parting.called_by = callers_at(scene, plan, options, parting.look);
    std::erase(parting.called_by, parting.rule); // a rule that hands over is no caller of its own
    constexpr double shortly_mm = 250.0;         // about a robot's length and what a turn takes
    const std::vector<LookRecord>& looks = result.run.looks;
    std::size_t from = parting.look;
    while (from > 0 && looks[parting.look].way_mm - looks[from - 1].way_mm < shortly_mm) {
        --from;
    }
    parting.asked = asked_ifs(scene, plan, options, from, std::max(parting.look, parting.left_way));
    for (AskedIf& asked : parting.asked) {
        asked.t_s = looks[std::min(asked.look, looks.size() - 1)].t_s;
    }
    const auto before = [&](const AskedIf& asked) { return asked.look <= parting.look; };
    if (std::any_of(parting.asked.begin(), parting.asked.end(), before)) {
        std::erase_if(parting.asked, [&](const AskedIf& asked) { return !before(asked); });
    }
    constexpr std::ptrdiff_t most = 4;
    if (std::ssize(parting.asked) > most) {
        parting.asked.erase(parting.asked.begin(), parting.asked.end() - most);
    }
}

bool ask_alike(const Plan& one, const Plan& other) {
    return one.markers() == other.markers() && one.places() == other.places() && one.heard() == other.heard();
}

void prefer_decision(const Scene& scene, const Plan& plan, TripResult& result, const Cure& cure,
                     const RunOptions& options) {
    const Compiled changed = compile_plan(cure.text, plan.file());
    if (!result.parting || !cure.counts() || !changed.plan) {
        return;
    }
    const auto stands_there = [&](RuleId rule) { return rule != no_rule && plan.rule(rule).line == cure.line; };
    const std::vector<Decision>& decisions = result.parting->decisions;
    const auto found = std::find_if(decisions.begin(), decisions.end(),
                                    [&](const Decision& d) { return stands_there(d.rule) || stands_there(d.better); });
    const bool is_told = found == decisions.begin() && found != decisions.end();
    if (is_told || (found == decisions.end() && !ask_alike(plan, *changed.plan))) {
        return;
    }
    tell_decision(scene, plan, result,
                  found != decisions.end() ? Decision(*found)
                                           : last_cured_look(scene, plan, *changed.plan, result, cure, options));
    note_callers(scene, plan, result, options_of(result.trip, options));
}

TripResult judge(const Scene& scene, const Trip& trip, Run run) {
    check_names(scene.course(), trip);
    TripResult result;
    result.trip = told_by_plates(scene, trip);
    result.run = std::move(run);
    const Trip whole = with_laps_written_out(result.trip);
    if (!whole.choices.empty()) {
        result.as_expected += judge_choices(scene, whole, result);
    }
    result.as_expected += judge_places(whole, route_of(scene.course(), result.run), result);
    judge_ending(scene.course(), whole, result);
    result.passed = result.failures.empty();
    result.as_expected += result.passed ? 1 : 0;
    return result;
}

TripResult try_trip(const Scene& scene, const Pilot& pilot, const Trip& trip, const RunOptions& options) {
    check_names(scene.course(), trip);
    return judge(scene, trip, pilot.drive(scene, options_of(trip, options)));
}

void try_trips(const Scene& scene, const Pilot& pilot, const Trip& trip, const std::vector<RunOptions>& options,
               const TakeTrip& take, const std::function<bool()>& goes_on) {
    check_names(scene.course(), trip);
    std::vector<RunOptions> own;
    for (const RunOptions& one : options) {
        own.push_back(options_of(trip, one));
    }
    const TakeRun judged = [&](std::size_t number, Run& run) {
        TripResult result = judge(scene, trip, std::move(run));
        take(number, result);
    };
    pilot.drive_many(scene, own, judged, goes_on);
}

std::vector<RunOptions> runs_from(const RunOptions& options, std::uint64_t first, std::size_t count) {
    std::vector<RunOptions> all;
    for (std::size_t n = 0; n < count; ++n) {
        all.push_back(nth_run(options, first + n));
    }
    return all;
}

TripResult take_trip(const Scene& scene, const Pilot& pilot, const Trip& trip, const RunOptions& options) {
    TripResult result = try_trip(scene, pilot, trip, options);
    find_parting(scene, pilot, result, options);
    return result;
}

TripResult try_trip_changed(const Scene& scene, const Plan& plan, const Plan& then, std::size_t from_look,
                            const Trip& trip, const RunOptions& options) {
    check_names(scene.course(), trip);
    Mind first(plan);
    Mind second(then);
    Answer unused;
    std::size_t look = 0;
    const Decide decide([&](const Look& in, Answer& out) {
        const bool is_first = look++ < from_look;
        first(in, is_first ? out : unused);
        second(in, is_first ? unused : out);
    });
    return judge(scene, trip, drive(scene, plan, decide, options_of(trip, options)));
}

void find_parting(const Scene& scene, const Pilot& pilot, TripResult& result, const RunOptions& options, bool thorough,
                  int threads) {
    if (result.passed || result.run.looks.empty()) {
        return;
    }
    if (!result.route) {
        result.route = match_run(scene, result.run);
    }
    result.parting = part_of(scene, pilot, with_laps_written_out(result.trip), result.run, *result.route);
    if (pilot.plan() != nullptr) {
        if (thorough) {
            find_deciding_look(scene, *pilot.plan(), result, options_of(result.trip, options), threads);
        }
        note_callers(scene, *pilot.plan(), result, options_of(result.trip, options));
        tell_misreads(scene, *pilot.plan(), result, options_of(result.trip, options));
    }
}

std::vector<std::string> route_of(const Course& course, const Run& run) {
    std::vector<std::string> names;
    for (const Visit& visit : run.visits) {
        names.push_back(course.places[visit.place].name);
    }
    return names;
}

} // namespace vast_turn
