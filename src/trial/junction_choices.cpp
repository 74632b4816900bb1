#include "vast_turn/trial/junction_choices.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "base/parallel.hpp"
#include "trial/line_under.hpp"
#include "vast_turn/base/noise.hpp"

namespace vast_turn {

namespace {

/// How far from the node the array is set: about `before_mm`, but on the line and not over a gap or a plate, where a
/// plan that begins anew knows nothing. Farther off before nearer.
double clear_distance(const Stretch& stretch, bool forward, double before_mm) {
    const double want = std::min(before_mm, 0.5 * stretch.length_mm);
    const auto is_clear = [&](double away) {
        const double along = forward ? away : stretch.length_mm - away;
        constexpr double margin_mm = 16.0;
        return std::none_of(stretch.bridges.begin(), stretch.bridges.end(), [&](const Bridge& bridge) {
            return along > bridge.from_mm - margin_mm && along < bridge.from_mm + bridge.length_mm + margin_mm;
        });
    };
    constexpr double step_mm = 4.0;
    constexpr int steps = 40;
    for (const double way : {step_mm, -step_mm}) {
        for (int i = 0; i < steps; ++i) {
            const double away = want + i * way;
            if (away > 30.0 && away < 0.9 * stretch.length_mm && is_clear(away)) {
                return away;
            }
        }
    }
    return want;
}

/// How far the robot is set before a node, so that it comes over the plates that lie on the line before it, as it would
/// on a round: a plate may say which way to take.
double before_plates(const Course& course, const Stretch& stretch, const std::vector<Vec2>& path, double before_mm) {
    double want = before_mm;
    for (const int number : stretch.markers) {
        const Marker& marker = course.markers[static_cast<std::size_t>(number)];
        double way = 0.0;
        double away = 0.0;
        double best = std::numeric_limits<double>::infinity();
        for (std::size_t i = 1; i < path.size(); ++i) {
            const Vec2 nearest = nearest_on_segment(marker.at, path[i - 1], path[i]);
            if (length(nearest - marker.at) < best) {
                best = length(nearest - marker.at);
                away = way + length(nearest - path[i - 1]);
            }
            way += length(path[i] - path[i - 1]);
        }
        constexpr double run_up_mm = 45.0; // colour sensors stand ahead of the array
        want = std::max(want, away + 0.5 * std::hypot(marker.length_mm, marker.across_mm) + run_up_mm);
    }
    return want;
}

/// A pose that looks to the node, with the array so far before it on the arm.
Pose pose_before(const Course& course, const RouteGraph& graph, const Exit& exit, double before_mm,
                 double array_ahead_mm) {
    const std::vector<Vec2> path = path_leaving(graph, exit);
    const Stretch& stretch = graph.stretch(exit.stretch);
    constexpr double clear_mm = 15.0; // of the node behind
    const double far = before_plates(course, stretch, path, before_mm);
    const double want =
        far > before_mm && far < stretch.length_mm - clear_mm ? far : clear_distance(stretch, exit.forward, before_mm);
    double way = 0.0;
    std::size_t i = 1;
    while (i + 1 < path.size() && way + length(path[i] - path[i - 1]) < want) {
        way += length(path[i] - path[i - 1]);
        ++i;
    }
    const std::size_t beyond = std::min(path.size() - 1, i + 8);
    const std::size_t before = i > 8 ? i - 8 : 0;
    const Vec2 d = path[before] - path[beyond]; // towards the node
    const double heading = to_degrees(std::atan2(-d.y, d.x));
    return {path[i] - array_ahead_mm * direction(heading), heading};
}

class ChoiceFinder {
public:
    ChoiceFinder(const Scene& scene, const Plan& plan, const ChoiceOptions& options)
        : scene_(scene), plan_(plan), graph_(scene.graph()), options_(options) {}

    std::vector<Arm> run() {
        std::vector<Arm> arms;
        for (std::size_t n = 0; n < graph_.nodes.size(); ++n) {
            const Node& node = graph_.nodes[n];
            for (std::size_t e = 0; node.kind != NodeKind::seam && e < node.exits.size(); ++e) {
                Arm arm;
                arm.node = NodeId(n);
                arm.from = ExitId(e);
                arm.taken.assign(node.exits.size(), 0);
                arms.push_back(std::move(arm));
            }
        }
        const auto repeats = static_cast<std::size_t>(std::max(1, options_.repeats));
        std::vector<OneEnd> ends(arms.size() * repeats);
        for_each_index(ends.size(), options_.threads,
                       [&](std::size_t i) { ends[i] = drive_one(arms[i / repeats], i); });
        for (std::size_t i = 0; i < ends.size(); ++i) {
            Arm& arm = arms[i / repeats];
            count(arm, ends[i].end);
            if (ends[i].end == stayed && arm.stayed_because.empty()) {
                arm.stayed_because = ends[i].because;
            }
        }
        for (Arm& arm : arms) {
            settle(arm);
        }
        return arms;
    }

private:
    static constexpr int halted = -1;
    static constexpr int lost = -2;
    static constexpr int stayed = -3;

    /// The exit by which one robot left, or one of the above, and why it stayed.
    struct OneEnd {
        int end = stayed;
        std::string because{};
    };

    /// How long the way takes a slow robot.
    double time_for(double way_mm) const {
        constexpr double slow = 1.0 / 7.0;
        constexpr double behind_mm = 400.0;
        constexpr double turns_s = 5.0;
        const double speed = slow * scene_.robot().top_speed_mm_s;
        return std::clamp((way_mm + behind_mm) / speed + turns_s, 8.0, 60.0);
    }

    /// Why a robot that had its time has left by no exit.
    std::string why_stayed(const Run& run, const MatchedRoute& route) const {
        constexpr double stands_mm_s = 2.0;
        const std::size_t tail = std::min<std::size_t>(run.looks.size(), 100);
        const LookRecord& last = run.looks.back();
        const LookRecord& before = run.looks[run.looks.size() - tail];
        const double span = std::max(last.t_s - before.t_s, 1e-6);
        const bool turns = std::abs(last.heading_deg - before.heading_deg) > 20.0;
        if (std::abs(last.way_mm - before.way_mm) < stands_mm_s * span) {
            return fmt::format("{} at {:.0f},{:.0f}", turns ? "turns on the spot" : "stands still", last.at.x,
                               last.at.y);
        }
        return route.told ? fmt::format("has not come through after {:.0f} s", run.time_s)
                          : fmt::format("its route cannot be told: {}", route.why_not);
    }

    OneEnd drive_one(const Arm& arm, std::size_t number) const {
        const Node& node = graph_.node(arm.node);
        const Exit& exit = node.exit(arm.from);
        RunOptions run = run_of_robot(options_, number);
        run.pose = pose_before(scene_.course(), graph_, exit, options_.before_mm, scene_.array_middle().x);
        const Draw draw = random_draw(options_.run.seed, Stream::start_pose, number);
        const NormalQuantile& normal = NormalQuantile::table();
        const Vec2 ahead = direction(run.pose->heading_deg);
        run.pose->at = run.pose->at + options_.aside_mm * normal(draw[0]) * Vec2{ahead.y, -ahead.x};
        run.pose->heading_deg += options_.askew_deg * normal(draw[1]);
        run.time_limit_s = options_.time_s > 0.0 ? options_.time_s : time_for(length(run.pose->at - node.at));
        run.with_things = false;
        const Run done = drive(scene_, plan_, run);
        const MatchedRoute route = match_run(scene_, done);
        for (const Choice& choice : route.choices) {
            if (choice.node == arm.node && choice.from == arm.from) {
                return {static_cast<int>(choice.to.index())};
            }
            break; // its first choice was made elsewhere: it turned round before it came there
        }
        if (done.ending == Ending::halted) {
            return {halted};
        }
        if (node.exits.size() == 1 && done.ending == Ending::time_over && came_back(route, exit)) {
            return {0};
        }
        return done.ending == Ending::time_over ? OneEnd{stayed, why_stayed(done, route)} : OneEnd{lost};
    }

    /// At an end: whether it drives away from it again at last.
    bool came_back(const MatchedRoute& route, const Exit& exit) const {
        return !route.legs.empty() && route.off_from_s < 0.0 &&
               (route.legs.back().stretch != exit.stretch || route.legs.back().forward == exit.forward);
    }

    static void count(Arm& arm, int end) {
        ++arm.robots;
        if (end >= 0) {
            ++arm.taken[static_cast<std::size_t>(end)];
        } else {
            ++(end == halted ? arm.halted : end == lost ? arm.lost : arm.stayed);
        }
    }

    const Scene& scene_;
    const Plan& plan_;
    const RouteGraph& graph_;
    const ChoiceOptions& options_;
};

} // namespace

RunOptions run_of_robot(const ChoiceOptions& options, std::uint64_t n) {
    RunOptions run = options.run;
    if (options.days) {
        run.day = std::max<std::uint64_t>(1, run.day) + n;
    } else {
        run.seed += n;
    }
    return run;
}

void settle(Arm& arm) {
    int most = 0;
    const auto consider = [&](int robots, ArmEnd end, ExitId exit) {
        if (robots > most) {
            most = robots;
            arm.usual = end;
            arm.usual_exit = exit;
        }
    };
    for (std::size_t e = 0; e < arm.taken.size(); ++e) {
        consider(arm.taken[e], ArmEnd::exit, ExitId(e));
    }
    consider(arm.halted, ArmEnd::halted, {});
    consider(arm.lost, ArmEnd::lost, {});
    consider(arm.stayed, ArmEnd::stayed, {});
    arm.share = static_cast<double>(most) / std::max(1, arm.robots);
}

std::vector<Arm> find_choices(const Scene& scene, const Plan& plan, const ChoiceOptions& options) {
    return ChoiceFinder(scene, plan, options).run();
}

const char* side_of(const Node& node, ExitId exit) {
    constexpr const char* sides[] = {"east", "north-east", "north", "north-west",
                                     "west", "south-west", "south", "south-east"};
    const double heading = std::remainder(node.exit(exit).heading_deg, 360.0);
    return sides[static_cast<std::size_t>(std::lround((heading < 0.0 ? heading + 360.0 : heading) / 45.0)) % 8];
}

std::string arm_name(const RouteGraph& graph, NodeId node, ExitId exit) {
    const Node& here = graph.node(node);
    std::string side = side_of(here, exit);
    for (std::size_t i = 0; i < here.exits.size(); ++i) {
        const ExitId other(i);
        if (other != exit && side == side_of(here, other)) {
            return side + ", " + graph.node(graph.end_of(here.exit(exit))).name;
        }
    }
    return side;
}

std::string describe(const RouteGraph& graph, const Arm& arm) {
    const Node& node = graph.node(arm.node);
    const auto way = [&](ExitId exit) {
        return node.exits.size() == 1 ? std::string("turns back") : way_name(node, arm.from, exit);
    };
    if (!arm.by_turns.empty()) {
        std::string turns;
        for (const ExitId exit : arm.by_turns) {
            turns +=
                (turns.empty() ? "" : ", ") + (exit ? way(exit) : std::string(arm.halted > 0 ? "halts" : "is lost"));
        }
        return fmt::format("by turns: {} {:.0f}/{}", turns, arm.share * arm.robots, arm.robots);
    }
    const auto what = [&]() -> std::string {
        switch (arm.usual) {
        case ArmEnd::exit: return way(arm.usual_exit);
        case ArmEnd::halted: return "halts";
        case ArmEnd::lost: return "is lost";
        case ArmEnd::stayed: return "stays";
        }
        return "";
    };
    return fmt::format("{} {:.0f}/{}", what(), arm.share * arm.robots, arm.robots);
}

std::vector<Reach> find_reach(const Course& course, const RouteGraph& graph, const std::vector<Arm>& arms) {
    std::vector<Reach> list;
    for (const StartPose& start : course.starts) {
        Reach reach;
        reach.start = start.name;
        OnLine at = line_under(graph, start.pose);
        std::vector<const Arm*> seen;
        while (at.stretch) {
            const Stretch& stretch = graph.stretch(at.stretch);
            const NodeId node = at.forward ? stretch.to : stretch.from;
            const auto arm = std::find_if(arms.begin(), arms.end(), [&](const Arm& a) {
                const Exit& exit = graph.node(a.node).exit(a.from);
                return a.node == node && exit.stretch == at.stretch && exit.forward != at.forward;
            });
            if (arm == arms.end()) {
                break; // a ring without junctions
            }
            const auto before = std::find(seen.begin(), seen.end(), &*arm);
            if (before != seen.end()) {
                reach.circles = true;
                reach.loop_from = static_cast<std::size_t>(before - seen.begin());
                break;
            }
            seen.push_back(&*arm);
            reach.nodes.push_back(node);
            reach.share *= arm->share;
            reach.end = arm->usual;
            if (arm->usual != ArmEnd::exit) {
                break;
            }
            const Exit& exit = graph.node(node).exit(arm->usual_exit);
            at = {exit.stretch, exit.forward, 0.0};
        }
        list.push_back(std::move(reach));
    }
    return list;
}

} // namespace vast_turn
