#include "vast_turn/trial/trip.hpp"

#include <algorithm>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "trial/parting.hpp"
#include "vast_turn/plan/describe.hpp"
#include "vast_turn/trial/matched_route.hpp"

namespace vast_turn {

namespace {

void check_names(const Course& course, const Trip& trip) {
    std::vector<std::string> known;
    for (const CoursePlace& place : course.places) {
        known.push_back(place.name);
    }
    for (const std::string& name : trip.visits) {
        if (course.find_place(name) == nullptr) {
            throw InputError(course.file,
                             fmt::format("trip \"{}\" visits \"{}\", which is no place of the course{}", trip.name,
                                         name, did_you_mean(name, known)),
                             fmt::format("its places are {}", one_of(known)));
        }
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

/// "fork left" is the node "fork" and the way left. Throws InputError.
struct Wanted {
    int node = 0;
    Turn turn = Turn::straight;
};

Wanted wanted_of(const Course& course, const RouteGraph& graph, const Trip& trip, const std::string& words) {
    const std::size_t space = words.rfind(' ');
    const std::string name = words.substr(0, space);
    const std::string way = space == std::string::npos ? "" : words.substr(space + 1);
    std::vector<std::string> known;
    for (std::size_t n = 0; n < graph.nodes.size(); ++n) {
        for (const Turn turn : {Turn::left, Turn::straight, Turn::right, Turn::back}) {
            if (graph.nodes[n].name == name && way == name_of(turn)) {
                return {static_cast<int>(n), turn};
            }
        }
        if (graph.nodes[n].exits.size() > 2) {
            known.push_back(graph.nodes[n].name);
        }
    }
    throw InputError(
        course.file,
        fmt::format("trip \"{}\" expects \"{}\", which is no junction with left, straight, right or back{}", trip.name,
                    words, did_you_mean(name, known)),
        fmt::format("its junctions are {}; vturn map lists them", one_of(known)));
}

void judge_choices(const Scene& scene, const Trip& trip, const Run& run, std::vector<std::string>& failures) {
    const RouteGraph& graph = scene.graph();
    const MatchedRoute route = match_route(graph, array_path(run, scene.robot()));
    bool same = route.told && route.choices.size() == trip.choices.size();
    for (std::size_t i = 0; i < trip.choices.size(); ++i) {
        const Wanted wanted = wanted_of(scene.course(), graph, trip, trip.choices[i]);
        same = same && route.choices[i].node == wanted.node && route.choices[i].turn == wanted.turn;
    }
    if (!route.told) {
        failures.push_back(fmt::format("its route cannot be told: {}", route.why_not));
    } else if (!same) {
        const std::string went = describe(graph, route);
        failures.push_back(fmt::format("went {}; expected {}", went.empty() ? "through no junction" : went,
                                       fmt::join(trip.choices, ", ")));
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
    lines.push_back(fmt::format("decided at {:.2f} s, {:.0f},{:.0f} mm, seeing [{}]", parting.t_s, parting.at.x,
                                parting.at.y, to_marks(parting.pattern)));
    lines.push_back(parting.rule < 0 ? std::string("by no rule: none held, so the last motion was kept")
                                     : fmt::format("by {}", describe_rule(plan, parting.rule)));
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

TripResult take_trip(const Scene& scene, const Plan& plan, const Trip& trip, const RunOptions& options) {
    check_names(scene.course(), trip);
    RunOptions own = options;
    own.start = trip.from;
    own.time_limit_s = trip.within_s;
    own.button_s = trip.button_s;
    own.hears = trip.hears;
    own.lost_after_s = trip.lost_after_s.value_or(own.lost_after_s);
    own.off_course_mm = trip.off_course_mm;
    own.keep_looks = true;
    TripResult result;
    result.trip = trip;
    result.run = drive(scene, plan, own);
    Trip whole = trip;
    whole.visits = times(trip.visits, trip.laps);
    whole.choices = times(trip.choices, trip.laps);
    result.failures = judge(scene, whole, result.run);
    result.passed = result.failures.empty();
    if (!result.passed && !result.run.looks.empty()) {
        result.parting = find_parting(scene, plan, whole, result.run);
    }
    return result;
}

} // namespace vast_turn
