#include "vast_turn/trial/trip_report.hpp"

#include <algorithm>
#include <cstdint>
#include <mutex>
#include <utility>

#include <fmt/format.h>

#include "base/parallel.hpp"
#include "base/share_out.hpp"
#include "trial/counted_work.hpp"
#include "trial/prefer_decision.hpp"

namespace vast_turn {

namespace {

using MaybeResult = std::optional<TripResult>;

class Reporter {
public:
    Reporter(const std::vector<TripCase>& cases, const std::vector<Pilot>& pilots, const TripReportOptions& options)
        : options_(options), work_(days_asked(cases, options) ? "days" : "runs", options.progress, options.stop) {
        report_.cases = cases;
        for (const Pilot& pilot : pilots) {
            report_.pilots.push_back({pilot, std::vector<CaseReport>(cases.size())});
        }
    }

    TripReport run() {
        days_asked(report_.cases, options_) ? drive_days() : make_runs();
        for (PilotReport& pilot : report_.pilots) {
            explain_failures(pilot);
        }
        if (options_.cures) {
            report_.cures_sought = true;
            for (PilotReport& pilot : report_.pilots) {
                seek_cures(pilot);
            }
        }
        report_.stopped = work_.stopped();
        return std::move(report_);
    }

private:
    /// The runs of one case by one pilot, while they are made in any order. Of many runs two are kept.
    struct Tally {
        std::mutex lock;
        int runs = 0;
        int passed = 0;
        std::uint64_t first = 0; ///< which run of the case each of the results is
        MaybeResult first_result;
        std::uint64_t failed = 0;
        MaybeResult failed_result;

        void take(std::uint64_t which, TripResult result) {
            const std::lock_guard<std::mutex> guard(lock);
            ++runs;
            passed += result.passed ? 1 : 0;
            const bool is_failed = !result.passed && (!failed_result || which < failed);
            const bool is_first = result.passed && (!first_result || which < first);
            if (is_failed) {
                failed = which;
                failed_result = std::move(result);
            } else if (is_first) {
                first = which;
                first_result = std::move(result);
            }
        }
    };

    std::uint64_t repeats_of(const TripCase& one) const {
        return static_cast<std::uint64_t>(options_.repeats > 0 ? options_.repeats : std::max(1, one.trip.repeats));
    }

    RunOptions like(const Run& run) const { return options_like(options_.run, run); }

    void make_runs() {
        std::uint64_t each = 0;
        for (const TripCase& one : report_.cases) {
            each += repeats_of(one);
        }
        refuse_too_many(each);
        const std::size_t all = each * report_.pilots.size();
        const std::size_t together = jobs_together({nullptr, options_.threads}, all, lanes_at_most);
        struct Block {
            std::size_t tally; // of which pilot and case
            std::uint64_t first;
            std::size_t count;
        };
        std::vector<Block> blocks; // of runs that go side by side
        std::vector<Tally> tallies(report_.cases.size() * report_.pilots.size());
        for (std::size_t t = 0; t < tallies.size(); ++t) {
            const std::uint64_t repeats = repeats_of(report_.cases[t % report_.cases.size()]);
            for (std::uint64_t first = 0; first < repeats; first += together) {
                blocks.push_back(
                    {t, first, static_cast<std::size_t>(std::min<std::uint64_t>(together, repeats - first))});
            }
        }
        work_.expect(all);
        for_each_index(blocks.size(), options_.threads, [&](std::size_t b) {
            make_block(blocks[b].tally, blocks[b].first, blocks[b].count, tallies[blocks[b].tally]);
        });
        for (std::size_t t = 0; t < tallies.size(); ++t) {
            Tally& tally = tallies[t];
            CaseReport& report = report_.pilots[t / report_.cases.size()].cases[t % report_.cases.size()];
            report.runs = tally.runs;
            report.passed = tally.passed;
            MaybeResult& told = tally.failed_result ? tally.failed_result : tally.first_result;
            if (told) {
                report.result = std::move(*told);
            }
        }
    }

    /// So many runs of a case by a pilot, side by side.
    void make_block(std::size_t number, std::uint64_t first, std::size_t count, Tally& tally) {
        const TripCase& one = report_.cases[number % report_.cases.size()];
        const Pilot& pilot = report_.pilots[number / report_.cases.size()].pilot;
        const auto take = [&](std::size_t n, TripResult& result) {
            if (result.passed || repeats_of(one) > 1) {
                result.run.looks = {}; // there may be many; one that is explained is driven again
            }
            tally.take(first + n, std::move(result));
            work_.done_one();
        };
        try_trips(*one.scene, pilot, one.trip, runs_from(options_.run, first, count), take,
                  [this] { return work_.goes_on(); });
    }

    DaysAsked days_of(const TripCase& one) const {
        DaysAsked asked = options_.days;
        asked.sure = asked.sure ? asked.sure : one.trip.sure;
        if (asked.days == 0 && !asked.sure) { // beside trips that say how sure
            asked.days = repeats_of(one);
        }
        return asked;
    }

    static bool days_asked(const std::vector<TripCase>& cases, const TripReportOptions& options) {
        return options.days.days > 0 || options.days.sure ||
               std::any_of(cases.begin(), cases.end(), [](const TripCase& one) { return one.trip.sure.has_value(); });
    }

    /// 0 when it shows on the way: a test goes on until it has decided.
    std::size_t days_to_drive() const {
        std::size_t days = 0;
        for (const TripCase& one : report_.cases) {
            const DaysAsked asked = days_of(one);
            if (asked.days == 0) {
                return 0;
            }
            days += static_cast<std::size_t>(asked.days) * report_.pilots.size();
        }
        return days;
    }

    void drive_days() {
        const std::uint64_t each = std::max<std::uint64_t>(1, options_.days.days) * report_.cases.size();
        refuse_too_many(each);
        work_.expect(days_to_drive());
        RunOptions first = options_.run;
        first.day = std::max<std::uint64_t>(1, first.day);
        for (PilotReport& pilot : report_.pilots) {
            for (std::size_t c = 0; c < report_.cases.size() && work_.goes_on(); ++c) {
                const TripCase& one = report_.cases[c];
                CaseReport& report = pilot.cases[c];
                CountedDays counted = take_days(
                    one, pilot.pilot, days_of(one), first, options_.threads, [this] { return work_.goes_on(); },
                    [this] { work_.done_one(); });
                report.runs = static_cast<int>(counted.runs);
                report.passed = static_cast<int>(counted.passed);
                report.days = std::move(counted.taken);
                if (report.runs > 0) {
                    RunOptions told = first;
                    told.day = counted.told;
                    report.result = try_trip(*one.scene, pilot.pilot, one.trip, told);
                }
                if (options_.margins && work_.goes_on()) {
                    report.days->margins = find_margins(one, pilot.pilot, options_.run, options_.threads,
                                                        [this] { return !work_.goes_on(); });
                }
            }
        }
    }

    void refuse_too_many(std::uint64_t runs_of_a_pilot) const {
        constexpr std::uint64_t most_runs = 100'000'000;
        constexpr std::size_t most_cases = 200'000;
        if (report_.cases.size() > most_cases ||
            runs_of_a_pilot > most_runs / std::max<std::size_t>(1, report_.pilots.size())) {
            throw InputError(
                "",
                fmt::format("that would be {} runs of {} cases by each plan", runs_of_a_pilot, report_.cases.size()),
                fmt::format("take at most {} cases and {} runs in one call: fewer starts, variants, "
                            "repeats or plans",
                            most_cases, most_runs));
        }
    }

    /// So many failed cases of a pilot are looked into with all means; where more fail, it is mostly for one reason.
    static constexpr int most_thorough = 12;

    void explain_failures(PilotReport& report) {
        int explained = 0;
        for (std::size_t c = 0; c < report.cases.size(); ++c) {
            TripResult& told = report.cases[c].result;
            if (report.cases[c].holds() || report.cases[c].runs == 0) {
                continue;
            }
            const TripCase& one = report_.cases[c];
            const RunOptions own = like(told.run);
            if (told.run.looks.empty()) {
                told = try_trip(*one.scene, report.pilot, one.trip, own);
            }
            find_parting(*one.scene, report.pilot, told, own, ++explained <= most_thorough && work_.goes_on(),
                         options_.threads);
        }
    }

    /// The best of a search, for the cases that fail for the same reason.
    static void remember(const std::vector<Cure>& cures, std::vector<Cure>& earlier) {
        constexpr std::size_t best = 5;
        for (std::size_t i = 0; i < std::min(best, cures.size()); ++i) {
            if (cures[i].passes && cures[i].held == cures[i].repeats) {
                earlier.push_back(cures[i]);
            }
        }
    }

    void seek_cures(PilotReport& report) {
        if (report.pilot.plan() == nullptr) {
            return;
        }
        int searches = 0;
        std::vector<Cure> earlier;
        CureFinder finder(*report.pilot.plan(), report_.cases, options_.threads);
        for (CaseReport& one : report.cases) {
            const std::size_t number = static_cast<std::size_t>(&one - report.cases.data());
            if (!one.holds() && one.runs > 0 && work_.goes_on()) {
                const RunOptions own = like(one.result.run);
                CureSearch search = finder.again(earlier, report_.cases[number], one.result, own);
                if (search.cures.empty() && ++searches <= most_thorough) {
                    search = finder.find(report_.cases[number], one.result, own, options_.progress,
                                         [this] { return !work_.goes_on(); });
                    remember(search.cures, earlier);
                }
                one.cures = std::move(search.cures);
                if (!one.cures.empty()) {
                    prefer_decision(*report_.cases[number].scene, *report.pilot.plan(), one.result, one.cures.front(),
                                    like(one.result.run));
                }
                one.changes_tried = search.tried;
            }
        }
    }

    const TripReportOptions& options_;
    CountedWork work_;
    TripReport report_;
};

int count(const TripReport& report, bool (*counts)(const CaseReport&)) {
    int sum = 0;
    for (const PilotReport& pilot : report.pilots) {
        sum += static_cast<int>(std::count_if(pilot.cases.begin(), pilot.cases.end(), counts));
    }
    return sum;
}

} // namespace

int TripReport::passed() const {
    return count(*this, [](const CaseReport& one) { return one.holds(); });
}

int TripReport::taken() const {
    return count(*this, [](const CaseReport& one) { return one.runs > 0; });
}

TripReport report_trips(const std::vector<TripCase>& cases, const std::vector<Pilot>& pilots,
                        const TripReportOptions& options) {
    return Reporter(cases, pilots, options).run();
}

} // namespace vast_turn
