#pragma once

/// Many trips with many pilots, again and again, on all cores: what came of them, and what would cure the failed ones.

#include <cstddef>
#include <functional>
#include <optional>
#include <vector>

#include "vast_turn/trial/cures.hpp"
#include "vast_turn/trial/days_taken.hpp"
#include "vast_turn/trial/trip_case.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

/// The runs of one case by one pilot.
struct CaseReport {
    TripResult result; ///< the first run that failed, explained; else the first, without its looks
    /// That were made, each with a seed or on a day of its own; 0 when the work was stopped before.
    int runs = 0;
    int passed = 0;                ///< of those
    std::vector<Cure> cures;       ///< of a failed run of a plan, when they were sought
    std::size_t changes_tried = 0; ///< in that search
    std::optional<DaysTaken> days; ///< when days were driven

    /// Whether every run passed. Of a case without runs: no.
    bool all_passed() const { return runs > 0 && passed == runs; }
    /// Whether it holds: in all runs, or as often as was asked for.
    bool holds() const { return days && days->sure ? days->decided.value_or(false) : all_passed(); }
};

/// The cases of one pilot.
struct PilotReport {
    /// Whose cases these are.
    Pilot pilot;
    std::vector<CaseReport> cases; ///< in the order of TripReport::cases
};

/// What came of all.
struct TripReport {
    std::vector<TripCase> cases;     ///< their scenes must outlive the report
    std::vector<PilotReport> pilots; ///< in the order given
    bool cures_sought = false;
    bool stopped = false; ///< `stop` ended the work: runs or cures are missing

    /// How many cases hold, and how many had a run.
    int passed() const;
    int taken() const; ///< cases that had a run
};

/// How trips are taken.
struct TripReportOptions {
    RunOptions run{}; ///< its seed is the first run's; each further run of a case has the next
    int repeats = 0;  ///< runs of each case; 0: as its trip says
    /// Days of each case in place of repeats; 0 and nothing: days are driven by trips that say how sure they must be.
    DaysAsked days{};
    bool margins = false; ///< of cases whose days are driven: how much they bear
    int threads = 0;      ///< 0: as many as there are
    bool cures = true;    ///< seek what would cure failed runs of plans
    /// Told how many of how many are done of what, "runs", "days" or "changes"; from any thread, one at a time. The
    /// second number is 0 when it will show on the way.
    std::function<void(const char* what, std::size_t done, std::size_t all)> progress{};
    /// Asked before each run and each tried change, from any thread; true begins no more of them.
    std::function<bool()> stop{};
};

/// Drives every case with every pilot and explains what failed. The same for any number of threads, unless `stop` says
/// so. Throws InputError as take_trip() does.
TripReport report_trips(const std::vector<TripCase>& cases, const std::vector<Pilot>& pilots,
                        const TripReportOptions& options = {});

} // namespace vast_turn
