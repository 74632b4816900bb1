#include "trial/cure_evidence.hpp"

#include <algorithm>
#include <vector>

#include "trial/junction_misreads.hpp"
#include "trial/recorder.hpp"

namespace vast_turn {

namespace {

/// How many rules and items of a plan had no part.
std::size_t idle_in(const Plan& plan, const FollowedRun& followed) {
    std::set<RuleId> acted;
    for (const auto& [look, rule] : followed.acted) {
        acted.insert(rule);
    }
    acted.erase(no_rule);
    return plan.rules().size() - std::min(plan.rules().size(), acted.size());
}

} // namespace

RunBefore::RunBefore(const Scene& scene, const Plan& plan, const TripResult& failed, const RunOptions& options)
    : scene_(scene), failed_(failed), options_(options) {
    if (!failed.run.looks.empty()) {
        idle_ = idle_in(plan, follow_run(scene, plan, failed.trip, options));
    }
}

void RunBefore::compare(const Plan& changed, CureEvidence& evidence) const {
    const std::vector<LookRecord>& before = failed_.run.looks;
    if (before.empty()) {
        return;
    }
    const FollowedRun now = follow_run(scene_, changed, failed_.trip, options_);
    const auto differ = std::mismatch(before.begin(), before.end(), now.run.looks.begin(), now.run.looks.end(),
                                      [](const LookRecord& a, const LookRecord& b) {
                                          return a.left_pct == b.left_pct && a.right_pct == b.right_pct;
                                      });
    const LookRecord& first = differ.first == before.end() ? before.back() : *differ.first;
    const LookRecord& decided = failed_.parting ? before[failed_.parting->look] : before.back();
    constexpr double long_before_mm = 240.0;
    evidence.early = decided.way_mm - first.way_mm > long_before_mm;
    evidence.idle = idle_in(changed, now) > idle_;
    const JunctionTakes takes = junction_takes(scene_, changed, now, now.run.looks.size());
    evidence.misreads = !takes.misreads.empty();
    evidence.uncounted = takes.uncounted.size();
}

DecidingLines::DecidingLines(const Plan& plan, const TripResult& failed) {
    if (!failed.parting) {
        return;
    }
    const Parting& parting = *failed.parting;
    const auto note = [&](RuleId rule) {
        if (rule != no_rule) {
            decided.insert(plan.rule(rule).line);
        }
    };
    note(parting.rule);
    std::for_each(parting.called_by.begin(), parting.called_by.end(), note);
    std::for_each(parting.held_too.begin(), parting.held_too.end(), note);
    for (const AskedIf& asked : parting.asked) {
        note(asked.item);
    }
    for (const Decision& decision : parting.decisions) {
        if (decision.rule != no_rule) {
            might_have_done.insert(plan.rule(decision.rule).line);
        }
    }
}

CureRank rank_of(const Cure& cure, const CureEvidence& evidence, const DecidingLines& lines) {
    // Structure of the deciding rules, then of others, then the rest of the deciding rules.
    const bool structure = cure.kind <= CureKind::count;
    const bool decided = lines.decided.contains(cure.line);
    const int tier = structure ? (decided ? 0 : 1) : (decided ? 2 : 3);
    // How long, from where and how much are numbers alike: of those the smaller change comes first.
    const CureKind kind =
        cure.kind == CureKind::limit || cure.kind == CureKind::threshold ? CureKind::lasting : cure.kind;
    constexpr int as_odd = 3; // what hands seldom do weighs as so many odd things
    return {!cure.passes,
            cure.breaks.size(),
            cure.repeats - cure.held,
            cure.slower,
            -static_cast<std::ptrdiff_t>(cure.mends.size()),
            evidence.misreads,
            evidence.uncounted,
            evidence.odder + (evidence.unlikely ? as_odd : 0),
            evidence.early,
            evidence.irregular,
            tier,
            evidence.idle,
            kind,
            !lines.might_have_done.contains(cure.line),
            evidence.size,
            cure.line};
}

} // namespace vast_turn
