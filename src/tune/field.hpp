#pragma once

/// All values that were tried, on which days they were driven and what came of it.

#include <cstddef>
#include <cstdint>
#include <map>
#include <optional>
#include <vector>

#include "vast_turn/tune/tune.hpp"

namespace vast_turn {

/// Numbers of candidates, in the order in which they were first tried.
using CandidateNumber = std::size_t;

/// Drives candidates on the days of the search and compares them on the same days. A day on which those failed that
/// failed seldom is a hard one: it tells at once of others whether they are too bold.
class TuneField {
public:
    /// Of a search of so many days. Keeps a reference.
    TuneField(const TuneAsk& ask, std::uint64_t days);

    /// The values at a place of the unit cube, as round as they are told; and the place of values.
    TuneValues values_at(const std::vector<double>& place) const;
    std::vector<double> place_of(const TuneValues& at) const;
    std::vector<double> place_of(CandidateNumber one) const { return place_of(all_[one].at); }

    /// These values, tried before or not yet.
    CandidateNumber add(const TuneValues& at, TuneStage stage);
    std::size_t size() const { return all_.size(); }
    const TuneValues& at(CandidateNumber one) const { return all_[one].at; }

    /// Drives each on the first so many days of the search; those that are out are left as they are. Does nothing when
    /// the runs are used up, or when told to stop.
    void drive(const std::vector<CandidateNumber>& which, std::uint64_t days);
    /// Drives one on so many of the hardest days that it has not seen.
    void drive_hard(CandidateNumber one, std::uint64_t days);
    /// Other days than those of the search. Empty when that is not to be.
    std::vector<TuneRun> drive_apart(CandidateNumber one, std::uint64_t first_day, std::uint64_t days);
    /// Any batches, not counted as runs of the search.
    std::vector<std::vector<TuneRun>> drive_besides(const std::vector<TuneBatch>& batches);

    /// Days of the search that it has seen; how many of those are still to see on which any other failed that is seldom
    /// out.
    std::uint64_t days(CandidateNumber one) const { return all_[one].days; }
    std::uint64_t hard_days_left(CandidateNumber one) const;
    /// Whether it has seen all of them.
    bool has_seen_all(CandidateNumber one) const { return all_[one].days >= days_.size(); }
    /// Days on which the trip failed that failed most often.
    std::uint64_t failed(CandidateNumber one) const;
    /// Of the first days, as far as it was driven on those: how many, and on how many this trip failed. The hard ones
    /// would tell too much of failures.
    std::uint64_t first_days(CandidateNumber one) const { return all_[one].first_days; }
    std::uint64_t failed_of_first(CandidateNumber one, std::size_t trip) const;
    /// Whether it has not failed so often that it hardly holds as often as it must, and was not refuted.
    bool is_in(CandidateNumber one) const;
    /// What the optimiser sees: the time as a part of the reference's on the same days; more than all of those when it
    /// is out, and the more the more often it failed.
    double worth(CandidateNumber one, CandidateNumber reference) const;
    /// The time as a part of the other's on the days that both passed, also of those that are out; 1 without any.
    double time_ratio(CandidateNumber one, CandidateNumber other) const;
    /// Takes it out: something right beside it fails.
    void leave_out(CandidateNumber one) { all_[one].at_an_edge = true; }
    /// Takes it out: these are the runs of a confirmation from this day on. The days on which it failed are of the
    /// search from now on.
    void refute(CandidateNumber one, std::uint64_t first_day, const std::vector<TuneRun>& runs);
    /// Mean time of all trips together on days on which all passed; 0 without any.
    double time_s(CandidateNumber one) const;

    /// The fastest of those that are in, held against one another on days that they share; none without.
    std::optional<CandidateNumber> fastest(const std::vector<CandidateNumber>& which) const;
    /// Those that are in, the fastest first.
    std::vector<CandidateNumber> by_time() const;

    std::uint64_t runs() const { return runs_; }
    std::uint64_t further_runs() const { return further_runs_; }
    bool is_over() const { return stopped_ || runs_ + ask_.trips > ask_.most_runs; }
    bool was_stopped() const { return stopped_; }
    TuneTried told(CandidateNumber one) const;

private:
    struct Candidate {
        TuneValues at;
        TuneStage stage = TuneStage::spread;
        std::map<std::size_t, std::vector<TuneRun>> runs{}; ///< of all trips, by the number of the day in the list
        std::uint64_t days = 0;
        std::uint64_t first_days = 0;
        bool cannot_be = false;
        bool refuted = false;
        bool at_an_edge = false;
        std::vector<std::uint64_t> failures{}; ///< by trip
    };

    bool may_go_on();
    void take(Candidate& one, std::size_t day, const TuneRun* runs);
    /// After it was driven: its days of failure are the harder, the fewer they are.
    void weigh(const Candidate& one);
    /// Time of a day with all trips; nothing when one failed.
    static std::optional<double> day_s(const std::vector<TuneRun>& runs);

    const TuneAsk& ask_;
    std::vector<double> grain_; ///< what values are rounded to
    std::vector<Candidate> all_;
    std::map<TuneValues, CandidateNumber> known_;
    std::vector<std::uint64_t> days_; ///< of the search
    std::vector<double> hard_;        ///< each of them
    std::uint64_t runs_ = 0;
    std::uint64_t further_runs_ = 0;
    bool stopped_ = false;
};

/// Days of all trips, the failures of the trip that failed most often, and their mean time.
TuneConfirmed counted(const std::vector<TuneRun>& runs, std::size_t trips);

} // namespace vast_turn
