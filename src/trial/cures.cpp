#include "vast_turn/trial/cures.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <iterator>
#include <map>
#include <mutex>
#include <optional>
#include <set>
#include <tuple>
#include <utility>

#include "base/parallel.hpp"
#include "trial/counted_work.hpp"
#include "trial/cure_evidence.hpp"
#include "trial/cure_tries.hpp"
#include "trial/farther.hpp"
#include "trial/plan_changes.hpp"
#include "trial/plan_oddness.hpp"
#include "trial/plan_text.hpp"
#include "trial/prefer_decision.hpp"

namespace vast_turn {

namespace {

constexpr int cure_repeats = 20;

/// Whether it goes on as expected when the plan changes at the deciding look.
bool goes_right_from_there(const TripCase& one, const Plan& plan, const Plan& changed, const TripResult& failed,
                           const RunOptions& options) {
    return failed.parting && ask_alike(plan, changed) &&
           try_trip_changed(*one.scene, plan, changed, failed.parting->look, failed.trip, options).as_expected >
               failed.as_expected;
}

/// The same run with other noise.
RunOptions once_more(RunOptions options, std::uint64_t n) {
    options.again = n;
    return options;
}

/// A change that passes at the seed at hand.
struct Passing {
    PlanChange change;
    Plan plan;
    bool slower = false;
    CureEvidence evidence{}; ///< but for what a comparison of runs tells
};

/// The search for one failed trip.
class CureSeeker {
public:
    CureSeeker(CureFinder::Tries& tries, const TripCase& one, const TripResult& failed, const RunOptions& options,
               const CureFinder::Progress& progress, const std::function<bool()>& stop)
        : tries_(tries), one_(one), failed_(failed), options_(options), progress_(progress), stop_(stop),
          work_("changes", progress, stop), lines_(tries.plan(), failed) {}

    CureSearch run() {
        CureSearch search;
        begin();
        const std::vector<PlanChange> changes = changer_->all();
        std::vector<Farther> farther;
        std::vector<Passing> passing = smallest(those_that_pass(changes, search.tried, &farther));
        search.cures = verified(passing);
        if (search.cures.empty() && work_.goes_on()) {
            search.cures = verified(with_another(farther, search.tried));
            // There are so many pairs that some pass by luck.
            std::erase_if(search.cures, [](const Cure& cure) { return cure.held < cure.repeats; });
        }
        if (search.cures.empty()) {
            search.cures = from_there(changes);
        }
        std::stable_sort(search.cures.begin(), search.cures.end(),
                         [this](const Cure& a, const Cure& b) { return rank(a) < rank(b); });
        return search;
    }

    CureSearch again(const std::vector<Cure>& earlier) {
        CureSearch search;
        for (const Cure& known : earlier) {
            const Compiled compiled = compile_plan(known.text, tries_.plan().file());
            ++search.tried;
            if (compiled.plan && passed(*compiled.plan, options_)) {
                Cure cure = known;
                cure.held = 0;
                cure.breaks.clear();
                cure.mends.clear();
                verify(cure);
                search.cures.push_back(std::move(cure));
            }
        }
        return search;
    }

private:
    std::optional<TripResult> passed(const Plan& plan, const RunOptions& options) const {
        TripResult result = try_trip(*one_.scene, plan, failed_.trip, options);
        return result.passed ? std::optional{std::move(result)} : std::nullopt;
    }

    void begin() {
        changer_.emplace(tries_.plan(), *one_.scene, failed_, options_);
        warnings_ = compile_plan(PlanText(tries_.plan()).text, tries_.plan().file()).problems.size();
        oddness_ = oddness(tries_.plan());
        irregularity_ = irregularity(tries_.plan());
    }

    /// What passes with two changes: of two slips one hides what mends the other.
    std::vector<Passing> with_another(const std::vector<Farther>& farther, std::size_t& tried_changes) {
        std::vector<Passing> passing;
        std::size_t pairs = 0;
        for (const Farther& first : worth_another(farther)) {
            if (!work_.goes_on()) {
                break;
            }
            const Plan plan = compile_plan(first.change->text, tries_.plan().file()).plan.value();
            const TripResult came = take_trip(*one_.scene, plan, failed_.trip, options_);
            CureFinder::Tries alone(plan, {}, tries_.threads());
            CureSeeker second(alone, one_, came, options_, progress_, stop_);
            second.begin();
            const std::vector<PlanChange> changes = second.changer_->all();
            constexpr std::size_t most = 6000; // of a long plan they would take minutes
            pairs += changes.size();
            if (pairs > most) {
                break;
            }
            for (Passing& both : second.smallest(second.those_that_pass(changes, tried_changes))) {
                PlanChange& change = both.change;
                both.evidence = evidence_of(both.plan, first.change->size + change.size,
                                            first.change->unlikely || change.unlikely, change.kind);
                change.what = first.change->what + ", then " + change.what;
                change.kind = first.change->kind;
                change.line = first.change->line;
                passing.push_back(std::move(both));
            }
        }
        return passing;
    }

    CureEvidence evidence_of(const Plan& changed, double size, bool unlikely, CureKind kind) const {
        CureEvidence evidence;
        evidence.size = size;
        evidence.unlikely = unlikely;
        const int odder = oddness(changed) - oddness_;
        // With what is taken out oddness goes too, whatever it was.
        evidence.odder = kind == CureKind::taken_out ? std::max(0, odder) : odder;
        evidence.irregular = irregularity(changed) > irregularity_;
        return evidence;
    }

    /// Whether it passes with this change; when it does not, how far it comes.
    std::optional<Passing> tried(const PlanChange& change, Farther* farther = nullptr) {
        Compiled compiled = compile_plan(change.text, tries_.plan().file());
        // What the compiler warns of, as a power of more than 100 %, nobody means.
        const bool is_written = change.knob != 0 || change.kind == CureKind::added;
        if (!compiled.plan || (is_written && compiled.problems.size() > warnings_)) {
            return std::nullopt;
        }
        ++driven_;
        constexpr double notably = 0.9;
        const TripResult result = try_trip(*one_.scene, *compiled.plan, failed_.trip, options_);
        if (!result.passed) {
            if (farther != nullptr && result.as_expected > failed_.as_expected) {
                *farther = {&change, result.as_expected};
            }
            return std::nullopt;
        }
        const bool slower =
            change.kind == CureKind::power && result.run.mean_speed_mm_s() < notably * failed_.run.mean_speed_mm_s();
        return Passing{change, *compiled.plan, slower,
                       evidence_of(*compiled.plan, change.size, change.unlikely, change.kind)};
    }

    /// What passes of these; those that only bring it farther are put into `farther`, where that is asked.
    std::vector<Passing> those_that_pass(const std::vector<PlanChange>& changes, std::size_t& tried_changes,
                                         std::vector<Farther>* farther = nullptr) {
        std::vector<std::optional<Passing>> found(changes.size());
        std::vector<Farther> came(changes.size());
        work_.expect(changes.size());
        for_each_index(changes.size(), tries_.threads(), [&](std::size_t i) {
            if (work_.goes_on()) {
                found[i] = tried(changes[i], &came[i]);
                work_.done_one();
            }
        });
        tried_changes += driven_;
        if (farther != nullptr) {
            std::copy_if(came.begin(), came.end(), std::back_inserter(*farther),
                         [](const Farther& one) { return one.change != nullptr; });
        }
        std::vector<Passing> passing;
        for (std::optional<Passing>& one : found) {
            if (one) {
                passing.push_back(std::move(*one));
            }
        }
        return passing;
    }

    /// Whether it passes with a few other seeds too: the least change that passes with one seed alone is luck.
    bool is_steady(const Plan& plan, int seeds = 4) const {
        for (int i = 1; i <= seeds; ++i) {
            if (!passed(plan, once_more(options_, static_cast<std::uint64_t>(i)))) {
                return false;
            }
        }
        return true;
    }

    /// Of each number and direction the smallest change, all others as they are.
    std::vector<Passing> smallest(std::vector<Passing> passing) {
        std::map<std::pair<std::size_t, bool>, std::vector<Passing>> knobs;
        std::vector<Passing> list;
        for (Passing& one : passing) {
            if (one.change.knob != 0 && one.change.factor > 0.0) {
                knobs[{one.change.knob, one.change.factor > 1.0}].push_back(std::move(one));
            } else {
                list.push_back(std::move(one));
            }
        }
        std::vector<std::vector<Passing>> groups;
        for (auto& [unused, group] : knobs) {
            groups.push_back(std::move(group));
        }
        std::vector<std::optional<Passing>> found(groups.size());
        for_each_index(groups.size(), tries_.threads(), [&](std::size_t i) {
            if (work_.goes_on()) {
                found[i] = smallest_of(groups[i]);
            }
        });
        for (std::optional<Passing>& one : found) {
            if (one) {
                list.push_back(std::move(*one));
            }
        }
        return list;
    }

    std::optional<Passing> smallest_of(std::vector<Passing>& group) {
        std::stable_sort(group.begin(), group.end(),
                         [](const Passing& a, const Passing& b) { return a.change.size < b.change.size; });
        for (std::size_t i = 0; i < group.size(); ++i) {
            if (is_steady(group[i].plan)) {
                return bisected(group[i], i == 0 ? 1.0 : group[i - 1].change.factor);
            }
        }
        return group.empty() ? std::nullopt : std::optional{group.front()};
    }

    Passing bisected(Passing best, double too_small) {
        constexpr int steps = 4;
        for (int i = 0; i < steps; ++i) {
            const double between = std::sqrt(too_small * best.change.factor);
            const PlanChange change = changer_->number(best.change.knob, between);
            std::optional<Passing> one = tried(change);
            if (change.text == best.change.text || !one || !is_steady(one->plan)) {
                too_small = between;
            } else {
                best = std::move(*one);
            }
        }
        const PlanChange written = changer_->number(best.change.knob, best.change.factor, true);
        std::optional<Passing> one = written.text == best.change.text ? std::nullopt : tried(written);
        return one && is_steady(one->plan, cure_repeats) ? std::move(*one) : best;
    }

    /// The most promising ones, with how often they hold and what becomes of the other trips.
    std::vector<Cure> verified(std::vector<Passing> passing) {
        std::vector<Cure> cures;
        const RunBefore before(*one_.scene, tries_.plan(), failed_, options_);
        for_each_index(passing.size(), tries_.threads(), [&](std::size_t i) {
            if (work_.goes_on()) {
                before.compare(passing[i].plan, passing[i].evidence);
            }
        });
        for (const Passing& one : passing) {
            Cure cure;
            cure.change = one.change.what;
            cure.text = one.change.text;
            cure.kind = one.change.kind;
            cure.line = one.change.line;
            cure.passes = true;
            cure.slower = one.slower;
            cures.push_back(std::move(cure));
            evidence_[one.change.text] = one.evidence;
        }
        std::stable_sort(cures.begin(), cures.end(),
                         [this](const Cure& a, const Cure& b) { return rank(a) < rank(b); });
        constexpr std::size_t most = 60;
        cures.resize(std::min(cures.size(), most));
        for_each_index(cures.size(), tries_.threads(), [&](std::size_t i) {
            if (work_.goes_on()) {
                verify(cures[i]);
            }
        });
        std::erase_if(cures, [](const Cure& cure) { return cure.repeats == 0; }); // left when it was stopped
        return cures;
    }

    void verify(Cure& cure) const {
        const Plan changed = compile_plan(cure.text, tries_.plan().file()).plan.value();
        cure.repeats = cure_repeats;
        cure.over_days = options_.day > 0;
        for (int i = 1; i <= cure_repeats; ++i) {
            cure.held += passed(changed, nth_run(options_, static_cast<std::uint64_t>(i))) ? 1 : 0;
        }
        const std::vector<TripCase>& others = tries_.others();
        for (std::size_t i = 0; i < others.size(); ++i) {
            if (others[i].trip.name == failed_.trip.name) {
                continue;
            }
            const bool before = tries_.passes(tries_.plan(), {}, i, options_);
            const bool after = tries_.passes(changed, cure.text, i, options_);
            if (after != before) {
                (after ? cure.mends : cure.breaks).push_back(others[i].trip.name);
            }
        }
    }

    /// When nothing passes: changes of the deciding lines with which it goes on as expected for a while.
    std::vector<Cure> from_there(const std::vector<PlanChange>& changes) {
        std::vector<const PlanChange*> asked;
        for (const PlanChange& change : changes) {
            if (lines_.decided.contains(change.line)) {
                asked.push_back(&change);
            }
        }
        std::vector<char> right(asked.size(), 0);
        for_each_index(asked.size(), tries_.threads(), [&](std::size_t i) {
            const Compiled compiled = compile_plan(asked[i]->text, tries_.plan().file());
            right[i] = work_.goes_on() && compiled.plan &&
                               goes_right_from_there(one_, tries_.plan(), *compiled.plan, failed_, options_)
                           ? 1
                           : 0;
        });
        std::vector<Cure> cures;
        for (std::size_t i = 0; i < asked.size(); ++i) {
            if (right[i] != 0) {
                Cure cure;
                cure.change = asked[i]->what;
                cure.text = asked[i]->text;
                cure.kind = asked[i]->kind;
                cure.line = asked[i]->line;
                cure.from_there = true;
                evidence_[cure.text].size = asked[i]->size;
                cures.push_back(std::move(cure));
            }
        }
        return cures;
    }

    CureRank rank(const Cure& cure) const {
        const auto known = evidence_.find(cure.text);
        return rank_of(cure, known == evidence_.end() ? CureEvidence{} : known->second, lines_);
    }

    CureFinder::Tries& tries_;
    const TripCase& one_;
    const TripResult& failed_;
    const RunOptions& options_;
    const CureFinder::Progress progress_;
    const std::function<bool()> stop_;
    std::optional<PlanChanger> changer_; ///< of a search for new cures
    CountedWork work_;
    DecidingLines lines_;
    std::atomic<std::size_t> driven_ = 0;          ///< changes that made a plan
    std::map<std::string, CureEvidence> evidence_; ///< by the changed text
    std::size_t warnings_ = 0;                     ///< of the plan as it is
    int oddness_ = 0;                              ///< of the plan as it is
    int irregularity_ = 0;                         ///< likewise
};

} // namespace

CureFinder::CureFinder(const Plan& plan, const std::vector<TripCase>& others, int threads)
    : tries_(std::make_unique<Tries>(plan, others, threads)) {}

CureFinder::~CureFinder() = default;

CureSearch CureFinder::find(const TripCase& one, const TripResult& failed, const RunOptions& options,
                            const Progress& progress, const std::function<bool()>& stop) {
    return CureSeeker(*tries_, one, failed, options, progress, stop).run();
}

CureSearch CureFinder::again(const std::vector<Cure>& earlier, const TripCase& one, const TripResult& failed,
                             const RunOptions& options) {
    return CureSeeker(*tries_, one, failed, options, {}, {}).again(earlier);
}

std::vector<Cure> find_cures(const TripCase& one, const Plan& plan, const TripResult& failed,
                             const std::vector<TripCase>& others, const RunOptions& options, int threads) {
    return CureFinder(plan, others, threads).find(one, failed, options).cures;
}

} // namespace vast_turn
