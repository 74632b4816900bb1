#include "vast_turn/trial/take_trips.hpp"

#include <algorithm>
#include <utility>

#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

namespace vast_turn {

namespace {

/// One run of one case with one plan.
struct TripJob {
    std::size_t plan;
    std::size_t trip;
    std::uint64_t seed;
    bool is_one_of_many;
};

using MaybeResult = std::optional<TripResult>;

int repeats_of(const TripCase& one, const TakeTripsOptions& options) {
    return options.repeats > 0 ? options.repeats : std::max(1, one.trip.repeats);
}

std::vector<TripJob> jobs_of(const std::vector<TripCase>& cases, std::size_t plans, const TakeTripsOptions& options) {
    std::vector<TripJob> jobs;
    for (std::size_t p = 0; p < plans; ++p) {
        for (std::size_t t = 0; t < cases.size(); ++t) {
            const auto repeats = static_cast<std::uint64_t>(repeats_of(cases[t], options));
            for (std::uint64_t k = 0; k < repeats; ++k) {
                jobs.push_back({p, t, options.run.seed + k, repeats > 1});
            }
        }
    }
    return jobs;
}

/// What the runs of one case came to that were made.
std::optional<CaseRuns> settled(std::vector<MaybeResult>::iterator begin, std::vector<MaybeResult>::iterator end) {
    const auto made = [](const MaybeResult& r) { return r.has_value(); };
    const auto first = std::find_if(begin, end, made);
    if (first == end) {
        return std::nullopt;
    }
    const auto failed = std::find_if(begin, end, [](const MaybeResult& r) { return r && !r->passed; });
    CaseRuns runs;
    runs.runs = static_cast<int>(std::count_if(begin, end, made));
    runs.passed = static_cast<int>(std::count_if(begin, end, [](const MaybeResult& r) { return r && r->passed; }));
    runs.result = std::move(failed == end ? **first : **failed);
    return runs;
}

} // namespace

std::size_t runs_of(const std::vector<TripCase>& cases, std::size_t plans, const TakeTripsOptions& options) {
    return jobs_of(cases, plans, options).size();
}

std::vector<std::vector<std::optional<CaseRuns>>>
take_trips(const std::vector<TripCase>& cases, const std::vector<Plan>& plans, const TakeTripsOptions& options) {
    const std::vector<TripJob> jobs = jobs_of(cases, plans.size(), options);
    std::vector<MaybeResult> results(jobs.size());
    tbb::task_arena arena(options.threads > 0 ? options.threads : tbb::task_arena::automatic);
    arena.execute([&] {
        tbb::parallel_for(std::size_t{0}, jobs.size(), [&](std::size_t i) {
            if (options.stop && options.stop()) {
                return;
            }
            const TripCase& one = cases[jobs[i].trip];
            RunOptions own = options.run;
            own.seed = jobs[i].seed;
            results[i] = judge_trip(*one.scene, plans[jobs[i].plan], one.trip, own);
            if (jobs[i].is_one_of_many) {
                results[i]->run.looks.clear(); // there may be many; the one that is explained is driven again
            }
            if (options.done) {
                options.done();
            }
        });
    });
    std::vector<std::vector<std::optional<CaseRuns>>> all(plans.size());
    auto at = results.begin();
    for (std::size_t p = 0; p < plans.size(); ++p) {
        for (const TripCase& one : cases) {
            const auto end = at + repeats_of(one, options);
            all[p].push_back(settled(at, end));
            at = end;
            if (all[p].back() && !all[p].back()->result.passed) { // only the one that is told is explained
                RunOptions own = options.run;
                own.seed = all[p].back()->result.run.seed;
                all[p].back()->result = take_trip(*one.scene, plans[p], one.trip, own);
            }
        }
    }
    return all;
}

} // namespace vast_turn
