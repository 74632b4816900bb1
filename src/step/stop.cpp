#include "vast_turn/step/stop.hpp"

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include <fmt/format.h>

namespace vast_turn {

namespace {

/// Which of some rules, guards and items have a part in a look.
struct ActsWatcher : runtime::Follower {
    std::set<RuleId> wanted;
    bool acted = false;

    static void note(runtime::Follower& self, const runtime::Machine& machine, runtime::Stage stage,
                     std::uint16_t number, bool holds) {
        auto& own = static_cast<ActsWatcher&>(self);
        const bool is_rule = stage == runtime::Stage::rule || stage == runtime::Stage::guard;
        const bool is_item = stage == runtime::Stage::item || stage == runtime::Stage::branch;
        if (holds && (is_rule || is_item)) {
            own.acted =
                own.acted || own.wanted.contains(RuleId(is_item ? number + machine.program().rule_count : number));
        }
    }
};

/// The plan that drives, when it is this one.
bool is_driven_by(const SteppedRun& run, const Plan& plan) {
    return run.mind() != nullptr && &run.mind()->plan().tables() == &plan.tables();
}

double level_of(bool holds) { return holds ? 1.0 : 0.0; }

} // namespace

bool Stop::reached(const SteppedRun& run) {
    const double now = level_(run);
    return now > std::exchange(before_, now);
}

Stop stop_at_line(const Plan& plan, int line) {
    ActsWatcher watcher;
    watcher.seen = &ActsWatcher::note;
    std::set<int> lines;
    for (std::size_t i = 0; i < plan.rules().size(); ++i) {
        lines.insert(plan.rules()[i].line);
        if (plan.rules()[i].line == line) {
            watcher.wanted.insert(RuleId(i));
        }
    }
    if (watcher.wanted.empty()) {
        const auto next = lines.lower_bound(line);
        throw InputError(plan.file(), fmt::format("no rule, guard or item stands at line {}", line),
                         next == lines.end() ? fmt::format("the last stands at line {}", *lines.rbegin())
                                             : fmt::format("the next stands at line {}", *next));
    }
    return {fmt::format("line {}", line), [plan, watcher](const SteppedRun& run) {
                if (!is_driven_by(run, plan) || run.is_over()) {
                    return 0.0;
                }
                ActsWatcher watching = watcher;
                Mind again = *run.mind_before();
                again.follow(&watching);
                Answer answer;
                again(run.look(), answer);
                return level_of(watching.acted);
            }};
}

Stop stop_in_block(const Plan& plan, const std::string& block) {
    const std::vector<std::string>& names = plan.blocks();
    const auto at = std::find(names.begin(), names.end(), block);
    if (at == names.end()) {
        throw InputError(plan.file(), fmt::format("the plan has no block `{}`{}", block, did_you_mean(block, names)),
                         fmt::format("its blocks are {}", one_of(names)));
    }
    const auto number = static_cast<std::uint16_t>(at - names.begin());
    return {"block " + block, [plan, number](const SteppedRun& run) {
                if (!is_driven_by(run, plan)) {
                    return 0.0;
                }
                const runtime::Machine& machine = run.mind()->machine();
                bool in_hand = false;
                for (int i = 0; i < machine.depth(); ++i) {
                    in_hand = in_hand || machine.frame(i).block == number;
                }
                return level_of(in_hand);
            }};
}

Stop stop_at_place(const Course& course, const std::string& place) {
    const CoursePlace* found = course.find_place(place);
    if (found == nullptr) {
        std::vector<std::string> names;
        for (const CoursePlace& one : course.places) {
            names.push_back(one.name);
        }
        throw InputError(course.file,
                         fmt::format("the course has no place \"{}\"{}", place, did_you_mean(place, names)),
                         names.empty() ? "it has none" : fmt::format("its places are {}", one_of(names)));
    }
    const auto number = static_cast<std::size_t>(found - course.places.data());
    return {fmt::format("place \"{}\"", place), [number](const SteppedRun& run) {
                const std::vector<Visit>& visits = run.run().visits;
                return static_cast<double>(std::count_if(
                    visits.begin(), visits.end(), [number](const Visit& visit) { return visit.place == number; }));
            }};
}

Stop stop_at_junction(const Scene& scene, const std::string& junction) {
    std::vector<Vec2> at;
    std::vector<std::string> names;
    for (const Node& node : scene.graph().nodes) {
        if (node.exits.size() > 2) {
            names.push_back(node.name);
            if (junction.empty() || node.name == junction) {
                at.push_back(node.at);
            }
        }
    }
    if (at.empty()) {
        throw InputError(scene.course().file,
                         junction.empty() ? std::string("the course has no junction")
                                          : fmt::format("the course has no junction \"{}\"{}", junction,
                                                        did_you_mean(junction, names)),
                         names.empty() ? "its lines do not fork" : fmt::format("its junctions are {}", one_of(names)));
    }
    const Vec2 middle = scene.array_middle();
    const double near_mm = scene.array_reach_mm();
    return {junction.empty() ? std::string("a junction") : fmt::format("junction \"{}\"", junction),
            [at, middle, near_mm](const SteppedRun& run) {
                const Vec2 array = from_robot(run.body().at, run.body().ahead, middle);
                return level_of(
                    std::any_of(at.begin(), at.end(), [&](Vec2 one) { return length(one - array) <= near_mm; }));
            }};
}

Stop stop_when(const Plan& plan, const Probe& probe) {
    return {probe.text(), [plan, own = probe](const SteppedRun& run) mutable {
                return level_of(is_driven_by(run, plan) && !run.is_over() && own.holds(*run.mind(), run.look()));
            }};
}

Stop stop_unanswered() {
    return {"unanswered", [](const SteppedRun& run) {
                const Answer& answer = run.answer();
                return level_of(std::any_of(answer.event, answer.event + answer.events,
                                            [](const Event& event) { return event.kind == EventKind::unanswered; }));
            }};
}

Stop stop_at_loss() {
    return {"the line lost", [](const SteppedRun& run) {
                const Scene& on = run.scene();
                const auto is_off = [&on](Vec2 at, Vec2 ahead) {
                    return on.tape().beyond_edge(from_robot(at, ahead, on.array_middle())) > on.array_outermost_mm();
                };
                constexpr std::size_t before = 2; // looks that were recorded, and the one at which it stands
                const std::vector<LookRecord>& looks = run.run().looks;
                const bool is_lost = looks.size() >= before && is_off(run.body().at, run.body().ahead) &&
                                     std::all_of(looks.end() - before, looks.end(), [&](const LookRecord& look) {
                                         return is_off(look.at, direction(static_cast<double>(look.heading_deg)));
                                     });
                return level_of(is_lost);
            }};
}

Stop stop_after_way(double way_mm) {
    return {fmt::format("{:g}mm", way_mm),
            [way_mm](const SteppedRun& run) { return level_of(run.body().path_mm >= way_mm); }};
}

std::optional<std::size_t> go_on(SteppedRun& run, std::vector<Stop>& stops) {
    for (Stop& stop : stops) {
        stop.watch(run);
    }
    while (run.next()) {
        std::optional<std::size_t> first;
        for (std::size_t i = 0; i < stops.size(); ++i) {
            if (stops[i].reached(run) && !first) { // all are asked: each remembers
                first = i;
            }
        }
        if (first) {
            return first;
        }
    }
    return std::nullopt;
}

bool go_on(SteppedRun& run, Stop& stop) {
    stop.watch(run);
    while (run.next()) {
        if (stop.reached(run)) {
            return true;
        }
    }
    return false;
}

} // namespace vast_turn
