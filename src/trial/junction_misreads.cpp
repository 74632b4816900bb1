#include "trial/junction_misreads.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "sim/junction_misreads.hpp"
#include "trial/edge_misreads.hpp"
#include "trial/interventions.hpp"

namespace vast_turn {

namespace {

std::string sentence_of(const Scene& scene, const Plan& plan, const Run& run, const JunctionMisread& misread) {
    const Node& node = scene.graph().node(misread.junction);
    const double t_s = run.looks[misread.take.look].t_s;
    const int line = plan.rule(misread.take.rule).line;
    switch (misread.kind) {
    case JunctionMisread::Kind::again:
        return fmt::format("{:.2f} s: {} was counted twice, at {:.2f} s by line {}, now by line {}", t_s, node.name,
                           run.looks[misread.first.look].t_s, plan.rule(misread.first.rule).line, line);
    case JunctionMisread::Kind::plate: {
        const Marker& plate = scene.course().markers[misread.plate];
        return fmt::format("{:.2f} s: {} at {:.0f},{:.0f} mm was taken for a junction by line {}, {} is {:.0f} mm away",
                           t_s, plate.colour, plate.at.x, plate.at.y, line, node.name, length(node.at - misread.at));
    }
    case JunctionMisread::Kind::line: break;
    }
    return fmt::format(
        "{:.2f} s: plain line at {:.0f},{:.0f} mm was taken for a junction by line {}, {} is {:.0f} mm away", t_s,
        misread.at.x, misread.at.y, line, node.name, length(node.at - misread.at));
}

/// By their looks: rules that chose, and items that ended for what the line sensors saw.
std::vector<JunctionTake> takes_in(const Plan& plan, const std::vector<JunctionRule>& kinds,
                                   const FollowedRun& followed) {
    std::vector<JunctionTake> takes;
    const auto bits = [&](std::size_t look) {
        return look < followed.run.looks.size() ? followed.run.looks[look].line_bits : std::uint8_t{0};
    };
    for (const auto& [look, rule] : followed.acted) {
        const JunctionRule kind = rule == no_rule ? JunctionRule::none : kinds[rule.index()];
        if (kind != JunctionRule::none && kind != JunctionRule::turns && bits(look) != 0) {
            takes.push_back({look, rule});
        }
    }
    for (const auto& [look, item] : followed.ended) {
        if (kinds[item.index()] == JunctionRule::turns && bits(look) != 0 && ends_by_line(plan, item, bits(look))) {
            takes.push_back({look, item});
        }
    }
    std::stable_sort(takes.begin(), takes.end(),
                     [](const JunctionTake& a, const JunctionTake& b) { return a.look < b.look; });
    return takes;
}

/// Tells a take as what decided, where it called what was in hand at the parting.
void tell_as_decision(const Scene& scene, const Plan& plan, TripResult& result, const JunctionTake& take) {
    std::vector<RuleId>& callers = result.parting->called_by;
    const auto caller = std::find(callers.begin(), callers.end(), take.rule);
    if (caller == callers.end() || take.look > result.parting->look) {
        return;
    }
    callers.erase(callers.begin(), caller + 1);
    tell_decision(scene, plan, result, {take.look, take.rule, no_rule, {}});
}

} // namespace

JunctionTakes junction_takes(const Scene& scene, const Plan& plan, const FollowedRun& followed, std::size_t until) {
    const std::vector<JunctionRule> kinds = junction_rules(plan);
    const std::vector<JunctionTake> takes = takes_in(plan, kinds, followed);
    JunctionTakes read = read_takes(scene, followed.run, kinds, takes, until);
    std::erase_if(read.misreads, [&](const JunctionMisread& misread) {
        const std::size_t rule = misread.take.rule.index();
        return kinds[rule] == JunctionRule::errand && !read.at_junctions[rule];
    });
    return read;
}

void tell_misreads(const Scene& scene, const Plan& plan, TripResult& result, const RunOptions& options) {
    Parting& parting = *result.parting;
    const std::size_t last_look = std::max(parting.look, parting.left_way);
    const std::vector<JunctionRule> kinds = junction_rules(plan);
    const bool asks_line =
        std::any_of(kinds.begin(), kinds.end(), [](JunctionRule kind) { return kind != JunctionRule::none; });
    const FollowedRun followed = asks_line ? follow_run(scene, plan, result.trip, options) : FollowedRun{};
    const JunctionTakes read = asks_line ? junction_takes(scene, plan, followed, last_look + 1) : JunctionTakes{};
    std::vector<std::pair<std::size_t, std::string>> told; // by their looks
    for (const JunctionMisread& misread : read.misreads) {
        told.emplace_back(misread.take.look, sentence_of(scene, plan, result.run, misread));
    }
    for (const UncountedPass& pass : read.uncounted) {
        const int sensors = static_cast<int>(scene.robot().sensors.size());
        told.emplace_back(pass.look,
                          fmt::format("{:.2f} s: {} was not counted, it saw [{}]", result.run.looks[pass.look].t_s,
                                      scene.graph().node(pass.junction).name, to_marks({pass.bits, sensors})));
    }
    const auto by_look = [](const auto& a, const auto& b) { return a.first < b.first; };
    std::stable_sort(told.begin(), told.end(), by_look);
    constexpr std::size_t most = 3; // the first led to the others
    const std::size_t more = told.size() - std::min(most, told.size());
    told.resize(told.size() - more);
    for (std::pair<std::size_t, std::string>& edge : edge_misreads(scene, plan, result.run, last_look)) {
        told.push_back(std::move(edge));
    }
    std::stable_sort(told.begin(), told.end(), by_look);
    for (std::pair<std::size_t, std::string>& one : told) {
        parting.misread.push_back(std::move(one.second));
    }
    if (more > 0) {
        parting.misread.push_back(fmt::format("and {} more junction{}", more, more == 1 ? "" : "s"));
    }
    if (read.misreads.empty()) {
        return;
    }
    const JunctionTake& last = read.misreads.back().take;
    const std::vector<JunctionTake> takes = takes_in(plan, kinds, followed);
    const bool is_last = std::none_of(takes.begin(), takes.end(), [&](const JunctionTake& take) {
        return take.look > last.look && take.look <= parting.look && take.rule != last.rule;
    });
    if (is_last && parting.otherwise.empty()) {
        tell_as_decision(scene, plan, result, last);
    }
}

} // namespace vast_turn
