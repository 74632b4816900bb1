#include "vast_turn/trial/trip.hpp"

#include <algorithm>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "trial/callers.hpp"
#include "trial/parting.hpp"
#include "trial/wanted_way.hpp"
#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/trial/matched_route.hpp"

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

std::vector<std::string> times(const std::vector<std::string>& list, int laps) {
    std::vector<std::string> all;
    for (int i = 0; i < laps; ++i) {
        all.insert(all.end(), list.begin(), list.end());
    }
    return all;
}

void judge_choices(const Scene& scene, const Trip& trip, const Run& run, std::vector<std::string>& failures) {
    const RouteGraph& graph = scene.graph();
    const MatchedRoute route = match_run(scene, run);
    const std::vector<WantedWay> wanted = wanted_ways(scene.course(), graph, trip);
    const std::size_t good = matched_choices(graph, wanted, route);
    if (!route.told) {
        failures.push_back(fmt::format("its route cannot be told: {}", route.why_not));
    } else if (route.choices.size() != wanted.size() || good < wanted.size()) {
        MatchedRoute rest = route; // what came as expected goes without saying
        rest.choices.erase(rest.choices.begin(), rest.choices.begin() + static_cast<std::ptrdiff_t>(good));
        const std::vector<std::string> missing(trip.choices.begin() + static_cast<std::ptrdiff_t>(good),
                                               trip.choices.end());
        failures.push_back(fmt::format(
            "{}went {}; expected {}",
            good > 0 ? fmt::format("after {} choice{} as expected ", good, good == 1 ? "" : "s") : std::string{},
            rest.choices.empty() ? "through no junction" : describe(graph, rest),
            missing.empty() ? std::string("no junction") : fmt::format("{}", fmt::join(missing, ", "))));
    }
}

std::vector<std::string> judge(const Scene& scene, const Trip& trip, const Run& run) {
    const Course& course = scene.course();
    std::vector<std::string> failures;
    const std::vector<std::string> route = route_of(course, run);
    if (!trip.choices.empty()) {
        judge_choices(scene, trip, run, failures);
    }
    for (const std::string& place : trip.never) {
        if (std::find(route.begin(), route.end(), place) != route.end()) {
            failures.push_back(fmt::format("came to {}, where it must never be", place));
        }
    }
    if (route != trip.visits && (trip.choices.empty() || !trip.visits.empty())) {
        failures.push_back(fmt::format("visited {}; expected {}", listed(route), listed(trip.visits)));
    }
    if (run.ending != trip.ends) {
        failures.push_back(
            fmt::format("ended with {} ({}); expected {}", name_of(run.ending), run.ended_because, name_of(trip.ends)));
    }
    const CoursePlace* end = trip.ends_at.empty() ? nullptr : course.find_place(trip.ends_at);
    if (end != nullptr && length(run.end_at - end->at) > end->radius_mm) {
        failures.push_back(
            fmt::format("ended at {:.0f},{:.0f} mm; expected in {}", run.end_at.x, run.end_at.y, trip.ends_at));
    }
    return failures;
}

} // namespace

std::vector<std::string> explain(const Plan& plan, const Parting& parting) {
    std::vector<std::string> lines;
    lines.push_back(
        fmt::format("after \"{}\" expected \"{}\", came to \"{}\"", parting.after, parting.expected, parting.instead));
    if (!parting.junction.empty()) {
        lines.push_back(fmt::format("at \"{}\", coming from the {}: took {}{}", parting.junction, parting.side,
                                    parting.taken_way,
                                    parting.expected_way.empty() ? "" : ", expected " + parting.expected_way));
    }
    lines.push_back(fmt::format("decided at {:.2f} s, {:.0f},{:.0f} mm, seeing [{}]", parting.t_s, parting.at.x,
                                parting.at.y, to_marks(parting.pattern)));
    lines.push_back(parting.rule < 0 ? std::string("by no rule: none held, so the last motion was kept")
                                     : fmt::format("by {}", describe_rule(plan, parting.rule)));
    for (const int rule : parting.called_by) {
        lines.push_back(fmt::format("called by {}", describe_rule(plan, rule)));
    }
    for (const int rule : parting.held_too) {
        lines.push_back(fmt::format("held too, but stands below: {}", describe_rule(plan, rule)));
    }
    return lines;
}

std::vector<std::string> looks_before(const Plan& plan, const TripResult& result) {
    constexpr std::size_t most = 5;
    std::vector<std::string> lines;
    if (!result.parting || result.run.looks.empty()) {
        return lines;
    }
    std::size_t last = result.parting->look;
    while (lines.size() < most) {
        const LookRecord& look = result.run.looks[last];
        std::size_t first = last;
        while (first > 0 && result.run.looks[first - 1].line_bits == look.line_bits &&
               result.run.looks[first - 1].rule == look.rule) {
            --first;
        }
        const std::string by = look.rule == no_rule
                                   ? std::string("no rule")
                                   : fmt::format("line {}", plan.rules()[static_cast<std::size_t>(look.rule)].line);
        lines.push_back(fmt::format("{:.2f} s  [{}] {} look{}  {}", result.run.looks[first].t_s,
                                    to_marks({look.line_bits, plan.sensors()}), last - first + 1,
                                    last == first ? "" : "s", by));
        if (first == 0) {
            break;
        }
        last = first - 1;
    }
    std::reverse(lines.begin(), lines.end());
    return lines;
}

std::vector<std::string> route_of(const Course& course, const Run& run) {
    std::vector<std::string> names;
    for (const Visit& visit : run.visits) {
        names.push_back(course.places[visit.place].name);
    }
    return names;
}

namespace {

/// What of a trip stands in the options of its run.
RunOptions options_of(const Trip& trip, const RunOptions& options) {
    RunOptions own = options;
    own.start = trip.from;
    own.time_limit_s = trip.within_s;
    own.button_s = trip.button_s;
    own.hears = trip.hears;
    own.lost_after_s = trip.lost_after_s.value_or(own.lost_after_s);
    own.off_course_mm = trip.off_course_mm;
    own.keep_looks = true;
    return own;
}

/// The trip with its laps written out.
Trip whole_of(const Trip& trip) {
    Trip whole = trip;
    whole.visits = times(trip.visits, trip.laps);
    whole.choices = times(trip.choices, trip.laps);
    return whole;
}

TripResult judged(const Scene& scene, const Trip& trip, Run run) {
    TripResult result;
    result.trip = trip;
    result.run = std::move(run);
    result.failures = judge(scene, whole_of(trip), result.run);
    result.passed = result.failures.empty();
    return result;
}

} // namespace

TripResult judge_trip(const Scene& scene, const Plan& plan, const Trip& trip, const RunOptions& options) {
    check_names(scene.course(), trip);
    return judged(scene, trip, drive(scene, plan, options_of(trip, options)));
}

TripResult take_trip(const Scene& scene, const Plan& plan, const Trip& trip, const RunOptions& options) {
    TripResult result = judge_trip(scene, plan, trip, options);
    if (!result.passed && !result.run.looks.empty()) {
        result.parting = find_parting(scene, plan, whole_of(trip), result.run);
        result.parting->called_by = callers_at(scene, plan, options_of(trip, options), result.parting->look);
    }
    return result;
}

TripResult take_trip(const Scene& scene, const Plan& plan, const Plan& then, std::size_t from_look, const Trip& trip,
                     const RunOptions& options) {
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
    return judged(scene, trip, drive(scene, plan, decide, options_of(trip, options)));
}

std::size_t as_expected(const Scene& scene, const TripResult& result) {
    const Trip whole = whole_of(result.trip);
    std::size_t good = result.passed ? 1 : 0;
    const std::vector<std::string> route = route_of(scene.course(), result.run);
    const auto parted = std::mismatch(whole.visits.begin(), whole.visits.end(), route.begin(), route.end());
    good += static_cast<std::size_t>(parted.first - whole.visits.begin());
    if (!whole.choices.empty()) {
        const RouteGraph& graph = scene.graph();
        good += matched_choices(graph, wanted_ways(scene.course(), graph, whole), match_run(scene, result.run));
    }
    return good;
}

} // namespace vast_turn
