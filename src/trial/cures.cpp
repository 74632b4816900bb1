#include "vast_turn/trial/cures.hpp"

#include <algorithm>
#include <map>
#include <mutex>
#include <optional>
#include <utility>

#include "base/parallel.hpp"
#include "trial/counted_work.hpp"
#include "trial/plan_changes.hpp"

namespace vast_turn {

/// Runs of changed plans over the trips, each made once.
class CureFinder::Tries {
public:
    Tries(const Plan& plan, const std::vector<TripCase>& others, int threads)
        : plan_(plan), others_(others), threads_(threads) {}

    const Plan& plan() const { return plan_; }
    const std::vector<TripCase>& others() const { return others_; }
    int threads() const { return threads_; }

    /// Whether trip number `i` passes with a plan of this text.
    bool passes(const Plan& changed, const std::string& text, std::size_t i, const RunOptions& options) {
        std::optional<bool>* known = nullptr;
        {
            const std::lock_guard<std::mutex> guard(lock_);
            std::vector<std::optional<bool>>& of_text = known_[{text, options.seed}];
            of_text.resize(others_.size());
            known = &of_text[i];
            if (*known) {
                return **known;
            }
        }
        const bool passed = try_trip(*others_[i].scene, changed, others_[i].trip, options).passed;
        const std::lock_guard<std::mutex> guard(lock_); // another thread may have found the same
        *known = passed;
        return passed;
    }

private:
    Plan plan_;
    const std::vector<TripCase> others_;
    int threads_;
    std::mutex lock_;
    std::map<std::pair<std::string, std::uint64_t>, std::vector<std::optional<bool>>> known_;
};

namespace {

/// The rules that decided: the one that acted, then those that called it.
std::vector<RuleId> deciding_rules(const TripResult& failed) {
    std::vector<RuleId> rules;
    if (failed.parting) {
        rules = failed.parting->called_by;
        if (failed.parting->rule != no_rule) {
            rules.insert(rules.begin(), failed.parting->rule);
        }
    }
    return rules;
}

/// Whether it goes on as expected when the plan changes at the deciding look.
bool goes_right_from_there(const TripCase& one, const Plan& plan, const Plan& changed, const TripResult& failed,
                           const RunOptions& options) {
    const bool asks_alike =
        changed.markers() == plan.markers() && changed.places() == plan.places() && changed.heard() == plan.heard();
    if (!failed.parting || !asks_alike) {
        return false;
    }
    return try_trip_changed(*one.scene, plan, changed, failed.parting->look, failed.trip, options).as_expected >
           failed.as_expected;
}

} // namespace

const char* promise_of(const Cure& cure) {
    return cure.passes ? "would pass with" : "goes right from there, but not from the start, with";
}

std::string describe(const Cure& cure) { return promise_of(cure) + (" " + cure.change); }

CureFinder::CureFinder(const Plan& plan, const std::vector<TripCase>& others, int threads)
    : tries_(std::make_unique<Tries>(plan, others, threads)) {}

CureFinder::~CureFinder() = default;

std::vector<Cure> CureFinder::find(const TripCase& one, const TripResult& failed, const RunOptions& options,
                                   const Progress& progress, const std::function<bool()>& stop) {
    const Plan& plan = tries_->plan();
    const std::vector<TripCase>& others = tries_->others();
    const auto is_itself = [&](std::size_t i) { return others[i].trip.name == failed.trip.name; };
    // What comes of a change; nothing when the trip goes wrong with it too.
    const auto tried = [&](const PlanChange& change) -> std::optional<Cure> {
        const Compiled compiled = compile_plan(change.text, plan.file());
        if (!compiled.plan) {
            return std::nullopt;
        }
        Cure cure{change.what, change.text, false, false, {}, {}};
        cure.from_there = goes_right_from_there(one, plan, *compiled.plan, failed, options);
        cure.passes = try_trip(*one.scene, *compiled.plan, failed.trip, options).passed;
        if (!cure.passes) {
            return cure.from_there ? std::optional{cure} : std::nullopt;
        }
        for (std::size_t i = 0; i < others.size(); ++i) {
            if (is_itself(i)) {
                continue;
            }
            const bool passed = tries_->passes(plan, {}, i, options);
            const bool passes = tries_->passes(*compiled.plan, change.text, i, options);
            if (passes != passed) {
                (passes ? cure.mends : cure.breaks).push_back(others[i].trip.name);
            }
        }
        return cure;
    };
    const std::vector<PlanChange> changes = changes_of(plan, deciding_rules(failed));
    std::vector<std::optional<Cure>> found(changes.size());
    CountedWork work("changes", progress, stop);
    work.expect(changes.size());
    for_each_index(changes.size(), tries_->threads(), [&](std::size_t i) {
        if (work.goes_on()) {
            found[i] = tried(changes[i]);
            work.done_one();
        }
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

std::vector<Cure> find_cures(const TripCase& one, const Plan& plan, const TripResult& failed,
                             const std::vector<TripCase>& others, const RunOptions& options, int threads) {
    return CureFinder(plan, others, threads).find(one, failed, options);
}

} // namespace vast_turn
