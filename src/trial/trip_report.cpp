#include "vast_turn/trial/trip_report.hpp"

#include <algorithm>
#include <utility>

#include "base/parallel.hpp"
#include "trial/counted_work.hpp"

namespace vast_turn {

namespace {

using MaybeResult = std::optional<TripResult>;

class Reporter {
public:
    Reporter(const std::vector<TripCase>& cases, const std::vector<Pilot>& pilots, const TripReportOptions& options)
        : options_(options), work_("runs", options.progress, options.stop) {
        report_.cases = cases;
        for (const Pilot& pilot : pilots) {
            report_.pilots.push_back({pilot, std::vector<CaseReport>(cases.size())});
        }
    }

    TripReport run() {
        make_runs();
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
    /// One run of one case with one pilot.
    struct Job {
        std::size_t pilot;
        std::size_t number; ///< of the case
        std::uint64_t seed;
        bool is_one_of_many;
    };

    int repeats_of(const TripCase& one) const {
        return options_.repeats > 0 ? options_.repeats : std::max(1, one.trip.repeats);
    }

    std::vector<Job> jobs() const {
        std::vector<Job> list;
        for (std::size_t p = 0; p < report_.pilots.size(); ++p) {
            for (std::size_t c = 0; c < report_.cases.size(); ++c) {
                const auto repeats = static_cast<std::uint64_t>(repeats_of(report_.cases[c]));
                for (std::uint64_t k = 0; k < repeats; ++k) {
                    list.push_back({p, c, options_.run.seed + k, repeats > 1});
                }
            }
        }
        return list;
    }

    RunOptions with_seed(std::uint64_t seed) const {
        RunOptions own = options_.run;
        own.seed = seed;
        return own;
    }

    void make_runs() {
        const std::vector<Job> all = jobs();
        std::vector<MaybeResult> results(all.size());
        work_.expect(all.size());
        for_each_index(all.size(), options_.threads, [&](std::size_t i) {
            if (!work_.goes_on()) {
                return;
            }
            const Job& job = all[i];
            const TripCase& one = report_.cases[job.number];
            results[i] = try_trip(*one.scene, report_.pilots[job.pilot].pilot, one.trip, with_seed(job.seed));
            if (job.is_one_of_many) {
                results[i]->run.looks = {}; // there may be many; the one that is explained is driven again
            }
            work_.done_one();
        });
        for (std::size_t i = 0; i < all.size(); ++i) {
            take_in(report_.pilots[all[i].pilot].cases[all[i].number], std::move(results[i]));
        }
    }

    static void take_in(CaseReport& report, MaybeResult result) {
        if (!result) {
            return;
        }
        const bool first_failed = !result->passed && report.passed == report.runs;
        ++report.runs;
        report.passed += result->passed ? 1 : 0;
        if (report.runs == 1 || first_failed) {
            report.result = std::move(*result);
        }
    }

    void explain_failures(PilotReport& report) const {
        for (std::size_t c = 0; c < report.cases.size(); ++c) {
            TripResult& told = report.cases[c].result;
            if (report.cases[c].all_passed() || report.cases[c].runs == 0) {
                continue;
            }
            const TripCase& one = report_.cases[c];
            const RunOptions own = with_seed(told.run.seed);
            if (told.run.looks.empty()) {
                told = try_trip(*one.scene, report.pilot, one.trip, own);
            }
            find_parting(*one.scene, report.pilot, told, own);
        }
    }

    void seek_cures(PilotReport& report) {
        if (report.pilot.plan() == nullptr) {
            return;
        }
        CureFinder finder(*report.pilot.plan(), report_.cases, options_.threads);
        for (CaseReport& one : report.cases) {
            const std::size_t number = static_cast<std::size_t>(&one - report.cases.data());
            if (!one.all_passed() && one.runs > 0 && work_.goes_on()) {
                one.cures = finder.find(report_.cases[number], one.result, with_seed(one.result.run.seed),
                                        options_.progress, [this] { return !work_.goes_on(); });
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
    return count(*this, [](const CaseReport& one) { return one.all_passed(); });
}

int TripReport::taken() const {
    return count(*this, [](const CaseReport& one) { return one.runs > 0; });
}

TripReport report_trips(const std::vector<TripCase>& cases, const std::vector<Pilot>& pilots,
                        const TripReportOptions& options) {
    return Reporter(cases, pilots, options).run();
}

} // namespace vast_turn
