#include "trial/part_finder.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "trial/wanted_way.hpp"
#include "vast_turn/course/graph/way_along.hpp"
#include "vast_turn/plan/explain/pattern_table.hpp"
#include "vast_turn/trial/junction_choices.hpp"

namespace vast_turn {

namespace {

constexpr double decision_reach_mm = 160.0; // about a robot's length: longer ago is another decision

/// From where and when the run was no longer on the route that the trip expects.
struct Part {
    std::string after;
    std::string expected;
    std::string instead;
    const CoursePlace* last_place = nullptr; ///< that it came to as expected
    std::vector<Vec2> way;                   ///< that it should have gone; empty when it is not told
    double begin_s = 0.0;
    double end_s = 0.0;
};

/// By the places that it should have visited.
Part part_by_places(const Scene& scene, const Trip& trip, const Run& run) {
    const Course& course = scene.course();
    std::size_t k = 0;
    while (k < trip.visits.size() && k < run.visits.size() &&
           course.places[run.visits[k].place].name == trip.visits[k]) {
        ++k;
    }
    Part s;
    Vec2 from = course.find_start(run.start)->pose.at;
    s.after = run.start;
    if (k > 0) {
        const CoursePlace& place = course.places[run.visits[k - 1].place];
        from = place.at;
        s.after = place.name;
        s.last_place = &place;
        s.begin_s = run.visits[k - 1].t_s;
    }
    const CoursePlace* next = k < trip.visits.size() ? course.find_place(trip.visits[k]) : nullptr;
    s.expected = next != nullptr ? next->name : name_of(trip.ends);
    const bool came_elsewhere = k < run.visits.size();
    s.instead = came_elsewhere ? course.places[run.visits[k].place].name : name_of(run.ending);
    s.end_s = came_elsewhere ? run.visits[k].t_s : run.time_s;
    if (next != nullptr) {
        s.way = way_along_lines(scene.graph(), from, next->at);
    }
    return s;
}

/// The path of a line as it leads away from a node, at most so far.
std::vector<Vec2> leads_away(const RouteGraph& graph, const Exit& exit, double most_mm) {
    std::vector<Vec2> path = path_leaving(graph, exit);
    double way = 0.0;
    for (std::size_t i = 1; i < path.size(); ++i) {
        way += length(path[i] - path[i - 1]);
        if (way > most_mm) {
            path.resize(i + 1);
        }
    }
    return path;
}

/// By what it should have done at junctions.
Part part_by_choices(const Scene& scene, const Trip& trip, const Run& run, const MatchedRoute& route) {
    const RouteGraph& graph = scene.graph();
    const std::vector<WantedWay> wanted = wanted_ways(scene.course(), graph, trip);
    const auto words_of = [&](const Choice& choice) {
        const Node& node = graph.node(choice.node);
        return node.name + " " + way_name(node, choice.from, choice.to);
    };
    const std::size_t k = matched_choices(graph, wanted, route);
    Part s;
    s.after = k > 0 ? trip.choices[k - 1] : run.start;
    s.begin_s = k > 0 ? route.choices[k - 1].t_s : 0.0;
    s.expected = k < wanted.size() ? trip.choices[k] : name_of(trip.ends);
    const bool chose = k < route.choices.size();
    s.instead = chose ? words_of(route.choices[k]) : name_of(run.ending);
    s.end_s = k + 1 < route.choices.size() ? route.choices[k + 1].t_s : run.time_s;
    if (chose && k < wanted.size() && route.choices[k].node == wanted[k].node) {
        const std::vector<Exit>& exits = graph.node(wanted[k].node).exits;
        constexpr double shown_mm = 150.0;
        s.way = leads_away(graph, exits[route.choices[k].from.index()], shown_mm);
        std::reverse(s.way.begin(), s.way.end());
        const ExitId exit = wanted_exit(graph, wanted[k], route.choices[k].from);
        if (exit) {
            const std::vector<Vec2> on = leads_away(graph, exits[exit.index()], shown_mm);
            s.way.insert(s.way.end(), on.begin(), on.end());
        }
    } else if (!chose && !route.legs.empty()) {
        s.way = graph.stretch(route.legs.back().stretch).path;
    }
    return s;
}

double distance_to(const std::vector<Vec2>& way, Vec2 p) {
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i + 1 < way.size(); ++i) {
        best = std::min(best, length(p - nearest_on_segment(p, way[i], way[i + 1])));
    }
    return best;
}

/// The last look of the stretch in which the expected way was under the array.
std::size_t last_look_on(const std::vector<Vec2>& way, const Scene& scene, const Run& run, std::size_t first,
                         std::size_t last) {
    for (std::size_t i = last; i > first; --i) {
        const LookRecord& look = run.looks[i];
        const Vec2 array = from_robot(look.at, direction(look.heading_deg), scene.array_middle());
        if (distance_to(way, array) <= scene.array_reach_mm()) {
            return i;
        }
    }
    return first;
}

Pattern pattern_of(const Scene& scene, const LookRecord& look) {
    return {look.line_bits, static_cast<int>(scene.robot().sensors.size())};
}

/// Rules that held as well and would have moved the wheels in another way.
std::vector<RuleId> rivals(const Scene& scene, const Plan* plan, const LookRecord& look) {
    std::vector<RuleId> list;
    if (plan == nullptr || look.rule == no_rule) {
        return list;
    }
    const std::optional<Wheels> mine = constant_wheels(*plan, look.rule);
    for (const RuleId other : also_holding(*plan, look.rule, pattern_of(scene, look))) {
        const bool is_else = plan->rule(other).condition == "else";
        if (!is_else && constant_wheels(*plan, other) != mine) {
            list.push_back(other);
        }
    }
    return list;
}

std::size_t deciding_look(const Scene& scene, const Plan* plan, const Run& run, std::size_t first, std::size_t parted) {
    const auto in_reach = [&](std::size_t i) {
        return length(run.looks[i].at - run.looks[parted].at) <= decision_reach_mm;
    };
    for (std::size_t i = parted; i > first && in_reach(i); --i) {
        if (rivals(scene, plan, run.looks[i]).empty()) {
            continue;
        }
        const auto same = [&](std::size_t k) {
            return run.looks[k].rule == run.looks[i].rule && run.looks[k].line_bits == run.looks[i].line_bits;
        };
        while (i > first + 1 && same(i - 1)) {
            --i; // the first of a row of equal looks
        }
        return i;
    }
    for (std::size_t i = parted; i > first && in_reach(i); --i) {
        if (run.looks[i].line_bits != 0) {
            return i;
        }
    }
    return parted;
}

/// The exit of a junction that leads along the way; none when none does.
ExitId exit_along(const RouteGraph& graph, const Node& node, ExitId from, const std::vector<Vec2>& way) {
    constexpr double away_mm = 70.0; // where two exits are clearly apart
    double best = 25.0;
    ExitId found;
    for (std::size_t i = 0; i < node.exits.size(); ++i) {
        const Vec2 there = leads_away(graph, node.exits[i], away_mm).back();
        const double aside = distance_to(way, there);
        if (i != from.index() && aside < best) {
            best = aside;
            found = ExitId(i);
        }
    }
    return found;
}

/// At which junction it went another way, if the route tells one near the deciding look.
void name_junction(const Scene& scene, const MatchedRoute& route, const std::vector<Vec2>& way, Parting& parting) {
    const RouteGraph& graph = scene.graph();
    constexpr double near_mm = 220.0;
    const Choice* nearest = nullptr;
    double best = near_mm;
    for (const Choice& choice : route.choices) {
        const double away = length(graph.node(choice.node).at - parting.at);
        const bool then = std::abs(choice.t_s - parting.t_s) < 3.0; // it may come by more than once
        if (then && away < best) {
            best = away;
            nearest = &choice;
        }
    }
    if (nearest == nullptr) {
        return;
    }
    const Node& node = graph.node(nearest->node);
    const ExitId expected = exit_along(graph, node, nearest->from, way);
    if (expected == nearest->to) {
        return; // they part elsewhere
    }
    parting.junction = node.name;
    parting.side = arm_name(graph, nearest->node, nearest->from);
    parting.taken_way = way_name(node, nearest->from, nearest->to);
    parting.expected_way = !expected ? "" : way_name(node, nearest->from, expected);
}

} // namespace

std::vector<RuleId> rivals_at(const Scene& scene, const Plan& plan, const LookRecord& look) {
    return rivals(scene, &plan, look);
}

Parting part_of(const Scene& scene, const Pilot& pilot, const Trip& trip, const Run& run, const MatchedRoute& route) {
    const Plan* plan = pilot.plan();
    Part part = part_by_places(scene, trip, run);
    if (!trip.choices.empty() && (trip.visits.empty() || part.expected == name_of(trip.ends))) {
        part = part_by_choices(scene, trip, run, route);
    }
    const auto index_at = [&](double t_s) {
        const auto after = std::upper_bound(run.looks.begin(), run.looks.end(), t_s,
                                            [](double t, const LookRecord& look) { return t < look.t_s; });
        return static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, after - run.looks.begin() - 1));
    };
    const std::size_t first = index_at(part.begin_s);
    std::size_t chosen = index_at(part.end_s);
    std::size_t left_way = chosen;
    if (part.way.size() <= 1 && part.last_place != nullptr) { // all but the end came as expected
        const CoursePlace& place = *part.last_place;
        left_way = first;
        while (left_way < chosen && length(run.looks[left_way].at - place.at) <= place.radius_mm) {
            ++left_way;
        }
    }
    if (part.way.size() > 1) {
        left_way = last_look_on(part.way, scene, run, first, chosen);
        chosen = deciding_look(scene, plan, run, first, left_way);
    }
    const LookRecord& look = run.looks[chosen];
    Parting parting;
    parting.look = chosen;
    parting.left_way = left_way;
    parting.t_s = look.t_s;
    parting.at = look.at;
    parting.after = part.after;
    parting.expected = part.expected;
    parting.instead = part.instead;
    parting.rule = plan == nullptr ? no_rule : look.rule;
    parting.pattern = pattern_of(scene, look);
    parting.held_too = rivals(scene, plan, look);
    if (part.way.size() > 1) {
        name_junction(scene, route, part.way, parting);
    }
    return parting;
}

} // namespace vast_turn
