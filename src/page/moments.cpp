#include "page/moments.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/trial/comparison.hpp"
#include "vast_turn/trial/matched_route.hpp"

namespace vast_turn {

namespace {

/// A spell of looks: how many, and how long.
void add_spell(std::vector<Moment>& moments, const Run& run, MomentKind kind, std::size_t first, std::size_t looks) {
    const double until = first + looks < run.looks.size() ? run.looks[first + looks].t_s : run.time_s;
    const double from = run.looks[first].t_s;
    moments.push_back({from, kind, fmt::format("{} {}, {:.2f} s", looks, looks == 1 ? "look" : "looks", until - from)});
}

void add_unanswered(std::vector<Moment>& moments, const Run& run) {
    for (std::size_t i = 0; i < run.looks.size(); ++i) {
        const std::size_t first = i;
        while (i < run.looks.size() && run.looks[i].rule == no_rule) {
            ++i;
        }
        if (i > first) {
            add_spell(moments, run, MomentKind::unanswered, first, i - first);
        }
    }
}

} // namespace

const char* name_of(MomentKind kind) {
    switch (kind) {
    case MomentKind::start: return "start";
    case MomentKind::place: return "place";
    case MomentKind::junction: return "junction";
    case MomentKind::said: return "said";
    case MomentKind::lost: return "lost";
    case MomentKind::unanswered: return "unanswered";
    case MomentKind::touched: return "touched";
    case MomentKind::end: return "end";
    }
    return "";
}

std::vector<Moment> moments_of(const Scene& scene, const Plan& plan, const Run& run) {
    std::vector<Moment> moments = {{0.0, MomentKind::start, run.start}};
    for (const Visit& visit : run.visits) {
        moments.push_back({visit.t_s, MomentKind::place, scene.course().places[visit.place].name});
    }
    const MatchedRoute route = match_run(scene, run);
    for (const Choice& choice : route.told ? route.choices : std::vector<Choice>{}) {
        const Node& node = scene.graph().node(choice.node);
        moments.push_back({choice.t_s, MomentKind::junction,
                           fmt::format("{}: {}", node.name, way_name(node, choice.from, choice.to))});
    }
    for (const RunEvent& event : run.events) {
        moments.push_back({event.t_s, MomentKind::said,
                           fmt::format("{}: {}", event_name(event.event.kind), describe_event(plan, event.event))});
    }
    for (const LineLoss& loss : losses_of(scene, run)) {
        add_spell(moments, run, MomentKind::lost, loss.look, loss.looks);
    }
    add_unanswered(moments, run);
    for (const Touch& touch : run.touches) {
        moments.push_back({touch.t_s, MomentKind::touched, touch.what.empty() ? "a wall" : touch.what});
    }
    moments.push_back({run.time_s, MomentKind::end, fmt::format("{}: {}", name_of(run.ending), run.ended_because)});
    std::stable_sort(moments.begin(), moments.end(), [](const Moment& a, const Moment& b) { return a.t_s < b.t_s; });
    return moments;
}

} // namespace vast_turn
