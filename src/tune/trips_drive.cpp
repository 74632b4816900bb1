#include "vast_turn/tune/trips_drive.hpp"

#include <utility>

#include "base/parallel.hpp"
#include "sweep/point_driver.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

TuneDrive trips_drive(SweepAsk trips) {
    return [ask = std::move(trips)](const std::vector<TuneBatch>& batches) {
        const std::size_t cases = ask.cases.size();
        std::vector<std::vector<TuneRun>> out(batches.size());
        std::vector<std::unique_ptr<PointDriver>> drivers(batches.size());
        std::vector<std::pair<std::size_t, std::size_t>> jobs; // batch, run
        for (std::size_t i = 0; i < batches.size(); ++i) {
            const bool as_before = i > 0 && batches[i].at == batches[i - 1].at;
            try {
                drivers[i] = as_before ? nullptr : std::make_unique<PointDriver>(ask, batches[i].at);
            } catch (const InputError&) {
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
        for_each_index(jobs.size(), ask.threads, [&](std::size_t k) {
            const auto [i, run] = jobs[k];
            std::size_t made = i;
            while (!drivers[made]) {
                --made; // of the same values
            }
            const RunOfPoint it = drivers[made]->run(
                ask.cases[run % cases], static_cast<std::size_t>(batches[i].first_day) - 1 + run / cases, false);
            out[i][run] = {it.passed, it.time_s};
        });
        return out;
    };
}

} // namespace vast_turn
