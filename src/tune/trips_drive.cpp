#include "vast_turn/tune/trips_drive.hpp"

#include <algorithm>
#include <array>
#include <memory>
#include <utility>

#include "base/share_out.hpp"
#include "sweep/point_driver.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

constexpr double cannot_be_s = -1.0;

/// Some days of a trip, driven side by side.
struct Job {
    std::size_t batch;
    std::size_t trip;
    std::size_t day; ///< the first, from 0 among those of the batch
    std::size_t days;
};

using Drivers = std::vector<std::unique_ptr<PointDriver>>;

/// Drivers of all batches that can be driven, none of one with the values of that before it; room for their runs, and
/// what is to be driven.
std::vector<Job> prepare(const SweepAsk& ask, const std::vector<TuneBatch>& batches, const TuneValues& first,
                         Drivers& drivers, std::vector<std::vector<TuneRun>>& out) {
    std::vector<Job> jobs;
    for (std::size_t i = 0; i < batches.size(); ++i) {
        const bool as_before = i > 0 && batches[i].at == batches[i - 1].at;
        try {
            drivers[i] = as_before ? nullptr : std::make_unique<PointDriver>(ask, batches[i].at);
        } catch (const InputError&) {
            if (batches[i].at == first) {
                throw;
            }
            continue;
        }
        if (as_before && out[i - 1].empty()) {
            continue;
        }
        out[i].resize(batches[i].days * ask.cases.size());
        for (std::size_t day = 0; day < batches[i].days; day += lanes_at_most) {
            for (std::size_t trip = 0; trip < ask.cases.size(); ++trip) {
                jobs.push_back({i, trip, day, std::min<std::size_t>(lanes_at_most, batches[i].days - day)});
            }
        }
    }
    return jobs;
}

/// The days of a trip among those of all trips.
void put_in_place(const Job& job, const TuneRun* runs, std::size_t trips, std::vector<TuneRun>& of_batch) {
    for (std::size_t n = 0; n < job.days; ++n) {
        of_batch[(job.day + n) * trips + job.trip] = runs[n];
    }
}

void forget_what_cannot_be(std::vector<std::vector<TuneRun>>& out) {
    for (std::vector<TuneRun>& of_batch : out) {
        if (std::any_of(of_batch.begin(), of_batch.end(), [](const TuneRun& run) { return run.time_s < 0.0; })) {
            of_batch.clear();
        }
    }
}

} // namespace

TuneDrive trips_drive(SweepAsk trips) {
    // The first values of all are those that the numbers have.
    const auto first = std::make_shared<TuneValues>();
    return [ask = std::move(trips), first](const std::vector<TuneBatch>& batches) {
        const std::size_t cases = ask.cases.size();
        if (first->empty() && !batches.empty()) {
            *first = batches.front().at;
        }
        std::vector<std::vector<TuneRun>> out(batches.size());
        std::vector<std::unique_ptr<PointDriver>> drivers(batches.size());
        const std::vector<Job> jobs = prepare(ask, batches, *first, drivers, out);
        using Block = std::array<TuneRun, lanes_at_most>;
        std::vector<Block> runs(jobs.size());
        const auto drive_job = [&](std::size_t j) {
            const Job& job = jobs[j];
            std::size_t made = job.batch;
            while (!drivers[made]) {
                --made; // of the same values
            }
            try {
                const auto from = static_cast<std::size_t>(batches[job.batch].first_day) - 1 + job.day;
                const RunsOfPoint driven = drivers[made]->run(job.trip, from, job.days);
                std::transform(driven.begin(), driven.end(), runs[j].begin(), [](const RunOfPoint& it) {
                    return TuneRun{it.passed, it.time_s};
                });
            } catch (const InputError&) {
                if (batches[job.batch].at == *first) {
                    throw; // it is not for the values
                }
                runs[j].front().time_s = cannot_be_s;
            }
        };
        share_out({ask.crew, ask.threads}, jobs.size(), drive_job, results_in(runs));
        for (std::size_t j = 0; j < jobs.size(); ++j) {
            put_in_place(jobs[j], runs[j].data(), cases, out[jobs[j].batch]);
        }
        forget_what_cannot_be(out);
        return out;
    };
}

} // namespace vast_turn
