#include "trial/parting.hpp"

#include <algorithm>
#include <limits>

#include "vast_turn/plan/pattern_table.hpp"

namespace vast_turn {

namespace {

constexpr double decision_reach_mm = 160.0; // about a robot's length: longer ago is another decision

/// From where and when the run was no longer on the route that the trip expects.
struct Part {
    Vec2 from;
    std::string after;
    std::string expected;
    std::string instead;
    const CoursePlace* next = nullptr; // null when nothing but the end was expected
    double begin_s = 0.0;
    double end_s = 0.0;
};

Part part_of_run(const Course& course, const Trip& trip, const Run& run) {
    std::size_t k = 0;
    while (k < trip.visits.size() && k < run.visits.size() &&
           course.places[run.visits[k].place].name == trip.visits[k]) {
        ++k;
    }
    Part s;
    const StartPose* start = course.find_start(run.start);
    s.from = start->pose.at;
    s.after = run.start;
    if (k > 0) {
        const CoursePlace& place = course.places[run.visits[k - 1].place];
        s.from = place.at;
        s.after = place.name;
        s.begin_s = run.visits[k - 1].t_s;
    }
    s.next = k < trip.visits.size() ? course.find_place(trip.visits[k]) : nullptr;
    s.expected = s.next != nullptr ? s.next->name : name_of(trip.ends);
    const bool came_elsewhere = k < run.visits.size();
    s.instead = came_elsewhere ? course.places[run.visits[k].place].name : name_of(run.ending);
    s.end_s = came_elsewhere ? run.visits[k].t_s : run.time_s;
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
std::vector<int> rivals(const Scene& scene, const Plan& plan, const LookRecord& look) {
    std::vector<int> list;
    if (look.rule == no_rule) {
        return list;
    }
    const std::optional<Wheels> mine = constant_wheels(plan, look.rule);
    for (const int other : also_holding(plan, look.rule, pattern_of(scene, look))) {
        const bool is_else = plan.rules()[static_cast<std::size_t>(other)].condition == "else";
        if (!is_else && constant_wheels(plan, other) != mine) {
            list.push_back(other);
        }
    }
    return list;
}

std::size_t deciding_look(const Scene& scene, const Plan& plan, const Run& run, std::size_t first, std::size_t parted) {
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

} // namespace

Parting find_parting(const Scene& scene, const Plan& plan, const Trip& trip, const Run& run) {
    const Part part = part_of_run(scene.course(), trip, run);
    const auto index_at = [&](double t_s) {
        const auto after = std::upper_bound(run.looks.begin(), run.looks.end(), t_s,
                                            [](double t, const LookRecord& look) { return t < look.t_s; });
        return static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, after - run.looks.begin() - 1));
    };
    const std::size_t first = index_at(part.begin_s);
    std::size_t chosen = index_at(part.end_s);
    if (part.next != nullptr) {
        const std::vector<Vec2> way = way_along_tapes(scene.course(), part.from, part.next->at);
        if (way.size() > 1) {
            chosen = deciding_look(scene, plan, run, first, last_look_on(way, scene, run, first, chosen));
        }
    }
    const LookRecord& look = run.looks[chosen];
    Parting parting;
    parting.look = chosen;
    parting.t_s = look.t_s;
    parting.at = look.at;
    parting.after = part.after;
    parting.expected = part.expected;
    parting.instead = part.instead;
    parting.rule = look.rule == no_rule ? -1 : look.rule;
    parting.pattern = pattern_of(scene, look);
    parting.held_too = rivals(scene, plan, look);
    return parting;
}

} // namespace vast_turn
