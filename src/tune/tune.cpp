// Spread, race, optimise, race again, confirm.
#include "vast_turn/tune/tune.hpp"

#include <algorithm>
#include <cmath>
#include <exception>
#include <map>
#include <optional>

#include <fmt/format.h>
#include <nlopt.hpp>

#include "tune/ask.hpp"
#include "tune/bolder.hpp"
#include "tune/caution.hpp"
#include "tune/field.hpp"
#include "tune/margins.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/sweep/axis.hpp"

namespace vast_turn {

namespace {

constexpr std::uint64_t spread_days = 2; // of the first race; each further one has twice as many
constexpr std::uint64_t local_days = 12; // that the optimiser looks at
constexpr std::uint64_t raced_days = 60; // besides the hard ones, of one that is to be confirmed
constexpr double spread_part = 0.4;      // of the runs before the race of the best
constexpr double local_part = 0.33;
constexpr int most_bolder = 40;        // tries in vain before one is put to the test
constexpr std::uint64_t most_test = 2; // times as many days as a confirmation takes at least
constexpr double off_edge = 0.006;     // of a range
constexpr double hopeless = 1.12;      // times the time of the best

std::vector<Axis> unit_cube(std::size_t numbers) {
    Axis axis;
    axis.values = {0.0, 1.0};
    return std::vector<Axis>(numbers, axis);
}

class Tuner {
public:
    explicit Tuner(const TuneAsk& ask)
        : ask_(ask), field_(ask, days_of_search(ask)), cube_(unit_cube(ask.numbers.size())),
          places_(field_, cube_, ask.seed), next_day_(ask.first_day + days_of_search(ask)) {}

    Tuned all() {
        start_ = field_.add(ask_.start, TuneStage::start);
        spread();
        local();
        confirm();
        return told();
    }

private:
    /// Runs that a confirmation takes, with some room for days that fail.
    static double confirming(const TuneAsk& ask) {
        return std::max(1.5 * static_cast<double>(days_to_confirm(ask.sure) * ask.trips),
                        0.28 * static_cast<double>(ask.most_runs));
    }
    /// As many days as make it likely that what holds on all of them will be confirmed.
    static std::uint64_t days_of_search(const TuneAsk& ask) {
        const double most = 0.25 * static_cast<double>(ask.most_runs) / static_cast<double>(ask.trips);
        return std::clamp<std::uint64_t>(static_cast<std::uint64_t>(most), 60,
                                         std::max<std::uint64_t>(60, days_to_confirm(ask.sure) / 2));
    }
    /// Runs of this part of the search, before the race of the best.
    std::uint64_t part(double share) const {
        const auto all = static_cast<double>(ask_.most_runs);
        const double racing = static_cast<double>(days_of_search(ask_) * ask_.trips);
        return static_cast<std::uint64_t>(share * std::max(0.3 * all, all - confirming(ask_) - racing));
    }

    /// Values all over the ranges, raced.
    void spread() {
        // A race of thirds costs about 3.7 times its first heat.
        const double heat = static_cast<double>(spread_days * ask_.trips);
        const auto places = static_cast<std::size_t>(static_cast<double>(part(spread_part)) / (3.7 * heat));
        std::vector<CandidateNumber> racing{start_};
        for (const SweepValues& place : fill_of(cube_, std::max<std::size_t>(4, places), ask_.seed)) {
            racing.push_back(field_.add(field_.values_at(place), TuneStage::spread));
        }
        for (std::uint64_t days = spread_days; racing.size() > 2 && !field_.is_over(); days *= 2) {
            field_.drive(racing, days);
            racing = better_third(racing);
            best_ = racing;
        }
        if (best_.empty()) {
            best_ = {start_};
        }
    }

    std::vector<CandidateNumber> better_third(const std::vector<CandidateNumber>& racing) const {
        std::optional<CandidateNumber> first = field_.fastest(racing);
        std::vector<std::pair<double, CandidateNumber>> ranked;
        for (const CandidateNumber one : racing) {
            ranked.emplace_back(field_.worth(one, first.value_or(start_)), one);
        }
        std::sort(ranked.begin(), ranked.end());
        ranked.resize(std::max<std::size_t>(1, ranked.size() / 3));
        std::vector<CandidateNumber> better;
        for (const auto& entry : ranked) {
            better.push_back(entry.second);
        }
        return better;
    }

    /// The optimiser, from the best of the spread; then again from where that led.
    void local() {
        const std::uint64_t until = field_.runs() + part(local_part);
        for (int round = 0; round < 3 && field_.runs() < until && !field_.is_over(); ++round) {
            const auto ranked = field_.by_time();
            const CandidateNumber from = ranked.empty() ? best_.front() : ranked.front();
            optimise(from, round == 0 ? 0.1 : 0.04, round == 2 ? until : field_.runs() + (until - field_.runs()) / 2);
        }
    }

    void optimise(CandidateNumber from, double stride, std::uint64_t until) {
        field_.drive({from}, local_days);
        const CandidateNumber reference = from;
        std::exception_ptr fault;
        struct Asked {
            Tuner& tuner;
            CandidateNumber reference;
            std::uint64_t until;
            nlopt::opt& opt;
            std::exception_ptr& fault;
        };
        nlopt::opt opt(nlopt::LN_SBPLX, static_cast<unsigned>(ask_.numbers.size()));
        Asked asked{*this, reference, until, opt, fault};
        opt.set_lower_bounds(0.0);
        opt.set_upper_bounds(1.0);
        opt.set_initial_step(stride);
        opt.set_xtol_abs(1.0 / 800.0);
        opt.set_maxeval(2000);
        opt.set_min_objective(
            [](unsigned n, const double* x, double*, void* data) {
                auto& it = *static_cast<Asked*>(data);
                try {
                    if (it.tuner.field_.runs() >= it.until || it.tuner.field_.is_over()) {
                        it.opt.force_stop();
                    }
                    return it.tuner.tried(std::vector<double>(x, x + n), it.reference);
                } catch (...) { // not through the library
                    it.fault = std::current_exception();
                    it.opt.force_stop();
                    return HUGE_VAL;
                }
            },
            &asked);
        std::vector<double> place = field_.place_of(from);
        double least = 0.0;
        try {
            opt.optimize(place, least);
        } catch (const nlopt::forced_stop&) {
            // its runs are used up
        } catch (const nlopt::roundoff_limited&) {
            // as near as it comes
        }
        if (fault) {
            std::rethrow_exception(fault);
        }
    }

    /// What the optimiser is told of a place: driven on as many days as it takes to see that it is no better.
    double tried(const std::vector<double>& place, CandidateNumber reference) {
        const CandidateNumber one = field_.add(field_.values_at(place), TuneStage::local);
        field_.drive({one}, local_days / 3);
        if (field_.is_in(one) && field_.worth(one, reference) < hopeless && field_.days(one) < local_days) {
            field_.drive_hard(one, local_days - field_.days(one));
        }
        return field_.worth(one, reference);
    }

    /// Of places that are likely to hold the fastest is driven on; what still holds then is put to the test on days of
    /// its own.
    void confirm() {
        const auto until =
            static_cast<std::uint64_t>(std::max(0.0, static_cast<double>(ask_.most_runs) - confirming(ask_)));
        while (!field_.is_over() && !winner_) {
            const std::vector<CandidateNumber> ranked = caution_.careful(field_.by_time());
            if (ranked.empty()) {
                return;
            }
            const bool is_late = field_.runs() >= until;
            const bool is_last = field_.runs() + days_to_confirm(ask_.sure) * ask_.trips * 21 / 20 >= ask_.most_runs;
            const CandidateNumber one = is_late ? safest(ranked) : ranked.front();
            if (!is_last && (field_.hard_days_left(one) > 0 || (!is_late && !is_raced(one)))) {
                race_on(one);
            } else if (!is_last && !stands_off(one)) {
                field_.leave_out(one);
                caution_.back_off(one);
            } else if (is_last || is_late || !bolder(one)) { // the last has runs for this one test
                test(one);
            }
        }
    }

    /// Whether it holds a little to either side of each number too, on the hard days: nobody wants what fails when the
    /// tape is glued a little otherwise, and what lies at an edge is seldom confirmed.
    bool stands_off(CandidateNumber one) {
        if (const auto known = stand_off_.find(one); known != stand_off_.end()) {
            return known->second;
        }
        bool stands = true;
        const std::vector<double> middle = field_.place_of(one);
        for (std::size_t i = 0; i < 2 * middle.size() && stands && !field_.is_over(); ++i) {
            std::vector<double> place = middle;
            place[i / 2] += i % 2 == 0 ? off_edge : -off_edge;
            const CandidateNumber beside = field_.add(field_.values_at(place), TuneStage::between);
            if (beside != one) {
                field_.drive({beside}, 1);
                field_.drive_hard(beside, field_.hard_days_left(beside));
                stands = field_.is_in(beside) || stand_off_.contains(beside);
            }
        }
        stand_off_[one] = stands;
        return stands;
    }

    /// When no more can be raced: one that has seen the most days, of nearly as many the fastest.
    CandidateNumber safest(const std::vector<CandidateNumber>& ranked) const {
        std::uint64_t most = 0;
        for (const CandidateNumber one : ranked) {
            most = std::max(most, field_.days(one));
        }
        return *std::find_if(ranked.begin(), ranked.end(),
                             [&](CandidateNumber one) { return 10 * field_.days(one) >= 8 * most; });
    }

    /// Has seen the days that tell most; all of them as long as no other has, so that it is known which those are.
    bool is_raced(CandidateNumber one) {
        some_saw_all_ = some_saw_all_ || field_.has_seen_all(one);
        return field_.has_seen_all(one) ||
               (some_saw_all_ && field_.days(one) >= raced_days && field_.hard_days_left(one) == 0);
    }

    /// Those days first that tell most.
    void race_on(CandidateNumber one) {
        field_.drive({one}, local_days / 3);
        if (field_.is_in(one)) {
            const std::uint64_t hard = field_.hard_days_left(one);
            field_.drive_hard(one, hard > 0 ? hard : std::max(local_days / 2, field_.days(one) / 3));
        }
    }

    /// Tries one place that may be faster than the fastest that was raced: half way to one that only just failed, or
    /// where the surfaces of times and failures promise most. False when enough was tried in vain.
    bool bolder(CandidateNumber held) {
        bolder_tries_ = held == bolder_than_ ? bolder_tries_ + 1 : 0;
        bolder_than_ = held;
        for (; bolder_tries_ < most_bolder; ++bolder_tries_) {
            const auto place = places_.nth(held, bolder_tries_);
            if (!place) {
                continue;
            }
            const std::size_t before = field_.size();
            const CandidateNumber one = field_.add(field_.values_at(*place), TuneStage::between);
            if (field_.size() > before) {
                field_.drive({one}, spread_days);
                if (field_.is_in(one) && field_.worth(one, held) < 1.0 && caution_.is_careful(one)) {
                    race_on(one);
                }
                return true;
            }
        }
        return false;
    }

    void test(CandidateNumber one) {
        std::vector<SequentialTest> tests(ask_.trips, SequentialTest(ask_.sure));
        std::vector<TuneRun> runs;
        const std::uint64_t first_day = next_day_;
        while (true) {
            const std::vector<TuneRun> more = field_.drive_apart(one, next_day_, 10);
            next_day_ += 10;
            if (more.empty()) { // used up before it was decided, or it cannot be driven on those days
                if (!field_.is_over()) {
                    field_.refute(one, first_day, runs);
                }
                return;
            }
            runs.insert(runs.end(), more.begin(), more.end());
            for (std::size_t i = 0; i < more.size(); ++i) {
                SequentialTest& test = tests[i % ask_.trips];
                if (!test.decided()) {
                    test.take(more[i].passed);
                }
            }
            const auto says = [](bool what) {
                return [what](const SequentialTest& test) { return test.decided() == what; };
            };
            const bool undecided =
                std::any_of(tests.begin(), tests.end(), [](const SequentialTest& test) { return !test.decided(); });
            if (std::any_of(tests.begin(), tests.end(), says(false)) ||
                (undecided && runs.size() > most_test * days_to_confirm(ask_.sure) * ask_.trips)) { // still not sure

                field_.refute(one, first_day, runs);
                caution_.back_off(one);
                return;
            }
            if (std::all_of(tests.begin(), tests.end(), says(true))) {
                winner_ = one;
                confirmed_ = counted(runs, ask_.trips);
                return;
            }
        }
    }

    Tuned told() {
        Tuned out;
        if (winner_) {
            out.winner = winner_;
            out.confirmed = confirmed_;
            const auto start = field_.drive_besides({{ask_.start, next_day_ - (confirmed_.days + 9) / 10 * 10,
                                                      std::min<std::uint64_t>(50, confirmed_.days)}});
            if (!start.empty() && !start.front().empty()) {
                out.start = counted(start.front(), ask_.trips);
            }
            out.margins = margins_of(field_, *winner_, ask_);
        } else if (const auto ranked = field_.by_time(); !ranked.empty()) {
            out.unconfirmed = ranked.front();
        }
        for (CandidateNumber one = 0; one < field_.size(); ++one) {
            out.tried.push_back(field_.told(one));
        }
        out.runs = field_.runs();
        out.further_runs = field_.further_runs();
        out.stopped = field_.was_stopped();
        return out;
    }

    const TuneAsk& ask_;
    TuneField field_;
    std::vector<Axis> cube_; ///< of unit length
    BolderPlaces places_;
    TuneCaution caution_{field_};
    CandidateNumber start_ = 0;
    std::vector<CandidateNumber> best_; ///< of the spread, the fastest first
    std::uint64_t next_day_;            ///< that no one has seen
    std::optional<CandidateNumber> winner_;
    TuneConfirmed confirmed_;
    CandidateNumber bolder_than_ = 0;
    int bolder_tries_ = 0; ///< than that one
    bool some_saw_all_ = false;
    std::map<CandidateNumber, bool> stand_off_; ///< of those that were asked
};

} // namespace

Tuned tune(const TuneAsk& ask) {
    check_tuning(ask);
    return Tuner(ask).all();
}

} // namespace vast_turn
