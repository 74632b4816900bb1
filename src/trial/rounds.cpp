#include "vast_turn/trial/rounds.hpp"

#include <algorithm>

#include "base/parallel.hpp"
#include "plan/check/checked.hpp"

namespace vast_turn {

namespace {

constexpr std::size_t rounds_a_start = 4;

/// An arm by its node and the exit that the robot comes by.
using ArmKey = std::pair<NodeId, ExitId>;

/// One round: what was done at each arm, in the order of the visits, and the nodes that it came to.
struct Round {
    std::vector<std::pair<ArmKey, ExitId>> visits; ///< no exit where it ended there
    std::vector<NodeId> nodes;
    ArmEnd end = ArmEnd::stayed;
    NodeId towards; ///< the rest as in Reach
    double to_go_mm = 0.0;
    std::string in_place;
};

/// Who ends or turns at the end of a line stands with its wheels behind it.
constexpr double came_mm = 150.0;

/// Whether it came to the node to which a line leads while it was on it.
bool came_to(const Run& run, const Leg& leg, Vec2 at) {
    return std::any_of(run.looks.begin(), run.looks.end(), [&](const LookRecord& look) {
        return look.t_s >= leg.begin_s && look.t_s <= leg.end_s && length(look.at - at) <= came_mm;
    });
}

/// Whether it ended so far before the node to which its last line leads that it never came there, and in which place.
void note_end(const Scene& scene, const Run& run, const Leg& last, NodeId node, Round& round) {
    const Vec2 at = scene.graph().node(node).at;
    if (came_to(run, last, at) || length(run.end_at - at) <= came_mm) {
        round.nodes.push_back(node);
        return;
    }
    round.towards = node;
    round.to_go_mm = length(run.end_at - at);
    const auto& places = scene.course().places;
    const auto place = std::find_if(places.begin(), places.end(),
                                    [&](const CoursePlace& p) { return length(run.end_at - p.at) <= p.radius_mm; });
    round.in_place = place == places.end() ? std::string{} : place->name;
}

Round round_of(const Scene& scene, const Run& run) {
    const RouteGraph& graph = scene.graph();
    const MatchedRoute route = match_run(scene, run);
    Round round;
    for (const Choice& choice : route.choices) {
        round.visits.push_back({{choice.node, choice.from}, choice.to});
    }
    for (std::size_t i = 0; i + 1 < route.legs.size(); ++i) {
        const Leg& leg = route.legs[i];
        const Leg& next = route.legs[i + 1];
        const NodeId ahead = graph.end_of({leg.stretch, leg.forward, 0.0});
        const NodeId begins = graph.end_of({next.stretch, !next.forward, 0.0});
        const bool turned = next.stretch == leg.stretch && next.forward != leg.forward;
        // Who turns round on a line comes back to where it began, not to where it was on its way to.
        if (!turned) {
            round.nodes.push_back(begins);
        } else if (came_to(run, leg, graph.node(ahead).at)) {
            round.nodes.push_back(ahead);
        }
    }
    if (run.ending == Ending::time_over || route.legs.empty() || !route.told) {
        return round;
    }
    round.end = run.ending == Ending::halted ? ArmEnd::halted : ArmEnd::lost;
    const Leg& last = route.legs.back();
    const NodeId node = graph.end_of({last.stretch, last.forward, 0.0});
    note_end(scene, run, last, node, round);
    const std::vector<Exit>& exits = graph.node(node).exits;
    for (std::size_t e = 0; e < exits.size(); ++e) {
        if (exits[e].stretch == last.stretch && exits[e].forward != last.forward) {
            round.visits.push_back({{node, ExitId(e)}, ExitId{}});
        }
    }
    return round;
}

/// As much of a list as comes again and again in it; all of it when nothing does.
template <class Item> std::size_t period_of(const std::vector<Item>& list, std::size_t from = 0) {
    const std::size_t n = list.size() - from;
    for (std::size_t period = 1; 2 * period <= n; ++period) {
        bool same = true;
        for (std::size_t i = from + period; same && i < list.size(); ++i) {
            same = list[i] == list[i - period];
        }
        if (same) {
            return period;
        }
    }
    return n;
}

std::vector<ExitId> exits_at(const Round& round, const ArmKey& key) {
    std::vector<ExitId> exits;
    for (const auto& [arm, exit] : round.visits) {
        if (arm == key) {
            exits.push_back(exit);
        }
    }
    return exits;
}

/// Tells an arm by what rounds did there, in the order of their visits when that may have a meaning.
void tell_by_rounds(Arm& arm, const std::vector<Round>& rounds, bool in_order) {
    const ArmKey key{arm.node, arm.from};
    std::vector<ExitId> turns; // of the round that came here most often
    int visits = 0;
    std::vector<int> taken(arm.taken.size(), 0);
    int halted = 0;
    int lost = 0;
    for (const Round& round : rounds) {
        const std::vector<ExitId> exits = exits_at(round, key);
        turns = exits.size() > turns.size() ? exits : turns;
        visits += static_cast<int>(exits.size());
        for (const ExitId exit : exits) {
            if (exit) {
                ++taken[exit.index()];
            } else {
                ++(round.end == ArmEnd::halted ? halted : lost);
            }
        }
    }
    if (visits == 0) {
        return;
    }
    arm.taken = taken;
    arm.halted = halted;
    arm.lost = lost;
    arm.stayed = 0;
    arm.robots = visits;
    arm.stayed_because.clear();
    arm.in_rounds = true;
    settle(arm);
    if (!in_order) {
        return;
    }
    turns.resize(period_of(turns));
    const bool differ = std::any_of(turns.begin(), turns.end(), [&](ExitId exit) { return exit != turns.front(); });
    if (!differ) {
        return;
    }
    arm.by_turns = turns;
    int as_told = 0;
    for (const Round& round : rounds) {
        const std::vector<ExitId> exits = exits_at(round, key);
        for (std::size_t i = 0; i < exits.size(); ++i) {
            as_told += exits[i] == turns[i % turns.size()] ? 1 : 0;
        }
    }
    arm.share = static_cast<double>(as_told) / visits;
}

/// Whether most visits of rounds did otherwise than most robots that were set there: how a robot comes to a junction,
/// on which side of the line and how fast, is not drawn at random there.
bool otherwise_in_rounds(const Arm& arm, const std::vector<Round>& rounds) {
    int visits = 0;
    int as_told = 0;
    for (const Round& round : rounds) {
        const ArmEnd end = round.end;
        for (const ExitId exit : exits_at(round, {arm.node, arm.from})) {
            ++visits;
            as_told += exit ? (arm.usual == ArmEnd::exit && arm.usual_exit == exit) : arm.usual == end;
        }
    }
    return 2 * as_told < visits;
}

Reach reach_of(const std::string& start, const std::vector<Round>& rounds) {
    const Round& round = rounds.front();
    Reach reach;
    reach.start = start;
    reach.nodes = round.nodes;
    reach.end = round.end;
    reach.towards = round.towards;
    reach.to_go_mm = round.to_go_mm;
    reach.in_place = round.in_place;
    if (round.end == ArmEnd::stayed) { // it drives on for ever: from the first node on that comes again and again
        for (std::size_t from = 0; from < reach.nodes.size() && !reach.circles; ++from) {
            const std::size_t period = period_of(reach.nodes, from);
            if (2 * period <= reach.nodes.size() - from) {
                reach.circles = true;
                reach.loop_from = from;
                reach.nodes.resize(from + period);
            }
        }
    }
    const auto as_first = std::count_if(rounds.begin(), rounds.end(), [&](const Round& other) {
        const std::size_t n = std::min(other.nodes.size(), round.nodes.size());
        return other.end == round.end && other.towards == round.towards &&
               (round.end == ArmEnd::stayed || other.nodes.size() == round.nodes.size()) &&
               std::equal(round.nodes.begin(), round.nodes.begin() + static_cast<std::ptrdiff_t>(n),
                          other.nodes.begin());
    });
    reach.share = static_cast<double>(as_first) / static_cast<double>(rounds.size());
    return reach;
}

} // namespace

bool remembers(const Plan& plan) {
    const lang::CheckedPlan& text = plan.checked();
    const auto becomes = [](const std::vector<lang::Rule>& rules) {
        return std::any_of(rules.begin(), rules.end(), [](const lang::Rule& rule) {
            return std::any_of(rule.acts.begin(), rule.acts.end(),
                               [](const lang::Act& act) { return act.kind == lang::ActKind::become; });
        });
    };
    return !text.vars.empty() || (!text.blocks.empty() && text.blocks[0].is_errand) || becomes(text.guards) ||
           std::any_of(text.blocks.begin(), text.blocks.end(), [&](const lang::LaidBlock& block) {
               return becomes(block.rules) || becomes(block.guards) ||
                      std::any_of(block.items.begin(), block.items.end(), [](const lang::LaidItem& item) {
                          return item.kind == lang::LaidItem::Kind::act && item.act.kind == lang::ActKind::become;
                      });
           });
}

PlanRoutes find_routes(const Scene& scene, const Plan& plan, const ChoiceOptions& options) {
    PlanRoutes out;
    out.arms = find_choices(scene, plan, options);
    out.reach = find_reach(scene.course(), scene.graph(), out.arms);
    const std::vector<StartPose>& starts = scene.course().starts;
    if (starts.empty()) {
        return out;
    }
    std::vector<Round> rounds(starts.size() * rounds_a_start);
    for_each_index(rounds.size(), options.threads, [&](std::size_t i) {
        RunOptions run = run_of_robot(options, i % rounds_a_start);
        run.start = starts[i / rounds_a_start].name;
        run.pose.reset();
        run.time_limit_s = options.round_s;
        run.with_things = false;
        rounds[i] = round_of(scene, drive(scene, plan, run));
    });
    out.in_rounds = remembers(plan);
    for (Arm& arm : out.arms) {
        if (out.in_rounds || otherwise_in_rounds(arm, rounds)) {
            tell_by_rounds(arm, rounds, out.in_rounds);
        }
    }
    for (std::size_t s = 0; s < starts.size(); ++s) {
        const auto begin = rounds.begin() + static_cast<std::ptrdiff_t>(s * rounds_a_start);
        Reach reach = reach_of(starts[s].name, {begin, begin + static_cast<std::ptrdiff_t>(rounds_a_start)});
        const bool told = reach.circles || reach.end != ArmEnd::stayed;
        if (told || out.in_rounds) { // else the way is longer than a round, and the table tells more of it
            out.reach[s] = std::move(reach);
        }
    }
    return out;
}

} // namespace vast_turn
