#include "vast_turn/tune/trips_drive.hpp"

#include <algorithm>
#include <memory>
#include <utility>

#include "base/share_out.hpp"
#include "sweep/point_driver.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

constexpr double cannot_be_s = -1.0;

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
        std::vector<std::pair<std::size_t, std::size_t>> jobs; // batch, run
        for (std::size_t i = 0; i < batches.size(); ++i) {
            const bool as_before = i > 0 && batches[i].at == batches[i - 1].at;
            try {
                drivers[i] = as_before ? nullptr : std::make_unique<PointDriver>(ask, batches[i].at);
            } catch (const InputError&) {
                if (batches[i].at == *first) {
                    throw;
                }
                continue;
            }
            if (as_before && out[i - 1].empty()) {
                continue;
            }
            out[i].resize(batches[i].days * cases);
            for (std::size_t run = 0; run < out[i].size(); ++run) {
                jobs.emplace_back(i, run);
            }
        }
        std::vector<TuneRun> runs(jobs.size());
        const auto drive_one = [&](std::size_t k) {
            const auto [i, run] = jobs[k];
            std::size_t made = i;
            while (!drivers[made]) {
                --made; // of the same values
            }
            try {
                const RunOfPoint it = drivers[made]->run(
                    ask.cases[run % cases], static_cast<std::size_t>(batches[i].first_day) - 1 + run / cases);
                runs[k] = {it.passed, it.time_s};
            } catch (const InputError&) {
                if (batches[i].at == *first) {
                    throw; // it is not for the values
                }
                runs[k].time_s = cannot_be_s;
            }
        };
        share_out({ask.crew, ask.threads}, jobs.size(), drive_one, results_in(runs));
        for (std::size_t k = 0; k < jobs.size(); ++k) {
            out[jobs[k].first][jobs[k].second] = runs[k];
        }
        for (std::vector<TuneRun>& of_batch : out) {
            if (std::any_of(of_batch.begin(), of_batch.end(), [](const TuneRun& run) { return run.time_s < 0.0; })) {
                of_batch.clear();
            }
        }
        return out;
    };
}

} // namespace vast_turn
