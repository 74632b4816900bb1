#include "vast_turn/trial/cures.hpp"

#include <algorithm>
#include <optional>

#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include "trial/plan_changes.hpp"

namespace vast_turn {

namespace {

/// The failed trip, the plan, and what is known of it without a change.
struct Trial {
    const Scene& scene;
    const Plan& plan;
    const TripResult& failed;
    const std::vector<TripCase>& others;
    const RunOptions& options;
    std::size_t good = 0;     ///< how far the trip went as expected
    std::vector<char> passed; ///< each of the others
};

/// Whether it goes on as expected when the plan changes at the deciding look.
bool goes_right_from_there(const Trial& trial, const Plan& changed) {
    const bool asks_alike = changed.markers() == trial.plan.markers() && changed.places() == trial.plan.places() &&
                            changed.heard() == trial.plan.heard();
    if (!trial.failed.parting || !asks_alike) {
        return false;
    }
    const TripResult result =
        take_trip(trial.scene, trial.plan, changed, trial.failed.parting->look, trial.failed.trip, trial.options);
    return as_expected(trial.scene, result) > trial.good;
}

/// What comes of a change; nothing when the trip goes wrong with it too.
std::optional<Cure> tried(const Trial& trial, const PlanChange& change) {
    const Compiled compiled = compile_plan(change.text, trial.plan.file());
    if (!compiled.plan) {
        return std::nullopt;
    }
    Cure cure{change.what, change.text, false, false, {}, {}};
    cure.from_there = goes_right_from_there(trial, *compiled.plan);
    cure.passes = judge_trip(trial.scene, *compiled.plan, trial.failed.trip, trial.options).passed;
    if (!cure.passes) {
        return cure.from_there ? std::optional{cure} : std::nullopt;
    }
    for (std::size_t i = 0; i < trial.others.size(); ++i) {
        const TripCase& other = trial.others[i];
        if (other.trip.name == trial.failed.trip.name) {
            continue;
        }
        const bool passes = judge_trip(*other.scene, *compiled.plan, other.trip, trial.options).passed;
        if (passes != (trial.passed[i] != 0)) {
            (passes ? cure.mends : cure.breaks).push_back(other.trip.name);
        }
    }
    return cure;
}

} // namespace

std::vector<Cure> find_cures(const Scene& scene, const Plan& plan, const TripResult& failed,
                             const std::vector<TripCase>& others, const RunOptions& options, int threads) {
    std::vector<int> rules;
    if (failed.parting) {
        rules = failed.parting->called_by;
        if (failed.parting->rule >= 0) {
            rules.insert(rules.begin(), failed.parting->rule);
        }
    }
    const std::vector<PlanChange> changes = changes_of(plan, rules);
    Trial trial{scene, plan, failed, others, options, as_expected(scene, failed), std::vector<char>(others.size())};
    std::vector<std::optional<Cure>> found(changes.size());
    tbb::task_arena arena(threads > 0 ? threads : tbb::task_arena::automatic);
    arena.execute([&] {
        tbb::parallel_for(std::size_t{0}, others.size(), [&](std::size_t i) {
            trial.passed[i] = judge_trip(*others[i].scene, plan, others[i].trip, options).passed ? 1 : 0;
        });
        tbb::parallel_for(std::size_t{0}, changes.size(), [&](std::size_t i) { found[i] = tried(trial, changes[i]); });
    });
    std::vector<Cure> cures;
    for (std::optional<Cure>& cure : found) {
        if (cure) {
            cures.push_back(std::move(*cure));
        }
    }
    std::stable_sort(cures.begin(), cures.end(), [](const Cure& a, const Cure& b) {
        return a.passes != b.passes ? a.passes : a.breaks.size() < b.breaks.size();
    });
    return cures;
}

std::vector<Cure> find_cures(const Scene& scene, const Plan& plan, const TripResult& failed, const RunOptions& options,
                             int threads) {
    return find_cures(scene, plan, failed, cases_of(scene, scene.course().trips), options, threads);
}

} // namespace vast_turn
