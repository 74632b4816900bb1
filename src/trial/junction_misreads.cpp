#include "trial/junction_misreads.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "sim/junction_misreads.hpp"
#include "trial/part_finder.hpp"

namespace vast_turn {

namespace {

std::string sentence_of(const Scene& scene, const Plan& plan, const Run& run, const JunctionMisread& misread) {
    const Node& node = scene.graph().node(misread.junction);
    const double t_s = run.looks[misread.take.look].t_s;
    const int line = plan.rule(misread.take.rule).line;
    return misread.again
               ? fmt::format("{:.2f} s: {} was counted twice, at {:.2f} s by line {}, now by line {}", t_s, node.name,
                             run.looks[misread.first.look].t_s, plan.rule(misread.first.rule).line, line)
               : fmt::format("{:.2f} s: plain line at {:.0f},{:.0f} mm was taken for a junction by line {}, "
                             "{} is {:.0f} mm away",
                             t_s, misread.at.x, misread.at.y, line, node.name, length(node.at - misread.at));
}

std::vector<JunctionTake> takes_in(const std::vector<JunctionRule>& kinds, const FollowedRun& followed) {
    std::vector<JunctionTake> takes;
    for (const auto& [look, rule] : followed.acted) {
        const bool is_one = rule != no_rule && rule.index() < kinds.size() && kinds[rule.index()] != JunctionRule::none;
        if (is_one && look < followed.run.looks.size() && followed.run.looks[look].line_bits != 0) {
            takes.push_back({look, rule});
        }
    }
    return takes;
}

/// Tells a take as what decided, where it called what was in hand at the parting.
void move_to(const Scene& scene, const Plan& plan, const Run& run, const JunctionTake& take, Parting& parting) {
    const auto caller = std::find(parting.called_by.begin(), parting.called_by.end(), take.rule);
    if (caller == parting.called_by.end() || take.look > parting.look) {
        return;
    }
    const LookRecord& look = run.looks[take.look];
    parting.called_by.erase(parting.called_by.begin(), caller + 1);
    parting.look = take.look;
    parting.t_s = look.t_s;
    parting.at = look.at;
    parting.rule = take.rule;
    parting.pattern = {look.line_bits, static_cast<int>(scene.robot().sensors.size())};
    parting.held_too = rivals_at(scene, plan, look);
}

} // namespace

JunctionTakes junction_takes(const Scene& scene, const Plan& plan, const FollowedRun& followed, std::size_t until) {
    const std::vector<JunctionRule> kinds = junction_rules(plan);
    const std::vector<JunctionTake> takes = takes_in(kinds, followed);
    JunctionTakes read = read_takes(scene, followed.run, kinds, takes, until);
    std::erase_if(read.misreads, [&](const JunctionMisread& misread) {
        const std::size_t rule = misread.take.rule.index();
        return kinds[rule] != JunctionRule::counts && !read.at_junctions[rule];
    });
    return read;
}

void tell_junction_misreads(const Scene& scene, const Plan& plan, TripResult& result, const RunOptions& options) {
    const std::vector<JunctionRule> kinds = junction_rules(plan);
    if (std::all_of(kinds.begin(), kinds.end(), [](JunctionRule kind) { return kind == JunctionRule::none; })) {
        return;
    }
    Parting& parting = *result.parting;
    const FollowedRun followed = follow_run(scene, plan, result.trip, options);
    const std::size_t until = std::max(parting.look, parting.left_way) + 1;
    const JunctionTakes read = junction_takes(scene, plan, followed, until);
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
    std::stable_sort(told.begin(), told.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    constexpr std::size_t most = 3;
    for (std::size_t i = 0; i < std::min(most, told.size()); ++i) { // the first led to the others
        parting.misread.push_back(std::move(told[i].second));
    }
    if (told.size() > most) {
        parting.misread.push_back(fmt::format("and {} more", told.size() - most));
    }
    if (read.misreads.empty()) {
        return;
    }
    const JunctionTake& last = read.misreads.back().take;
    const std::vector<JunctionTake> takes = takes_in(kinds, followed);
    const bool is_last = std::none_of(takes.begin(), takes.end(), [&](const JunctionTake& take) {
        return take.look > last.look && take.look <= parting.look && take.rule != last.rule;
    });
    if (is_last && parting.otherwise.empty()) {
        move_to(scene, plan, result.run, last, parting);
    }
}

} // namespace vast_turn
