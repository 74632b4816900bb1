#include "vast_turn/many/drive_many.hpp"

#include <algorithm>
#include <atomic>
#include <thread>

#include "base/parallel.hpp"
#include "many/lane_group.hpp"

namespace vast_turn {

static_assert(lanes_at_most == lanes_wide);

void drive_many(const Scene& scene, const Plan& plan, const std::vector<RunOptions>& options, const TakeRun& take,
                const ManyOptions& many) {
    check_fit(scene.robot(), plan);
    constexpr std::size_t worth_lanes = 4; // as many as a round of all lanes takes the time of
    if (options.size() < worth_lanes) {
        for (std::size_t n = 0; n < options.size() && (!many.goes_on || many.goes_on()); ++n) {
            Run run = drive(scene, plan, options[n]);
            take(n, run);
        }
        return;
    }
    const std::size_t lanes = std::clamp<std::size_t>(many.lanes, 1, lanes_wide);
    const std::size_t threads =
        many.jobs > 0 ? static_cast<std::size_t>(many.jobs) : std::max(1U, std::thread::hardware_concurrency());
    const std::size_t groups = std::min(threads, (options.size() + lanes - 1) / lanes);
    std::atomic<std::size_t> next = 0;
    std::atomic<bool> failed = false;
    std::atomic<bool> stopped = false; // once it is, it stays so
    const auto drive_group = [&] {
        LaneGroup group(scene, plan, take, lanes);
        do {
            while (group.has_room() && !failed && !stopped) {
                const std::size_t n = next++;
                if (n >= options.size()) {
                    break;
                }
                if (many.goes_on && !many.goes_on()) {
                    stopped = true;
                    break;
                }
                group.add(n, options[n]);
            }
            group.round();
        } while (!group.is_empty() && !failed);
    };
    if (groups == 1) {
        return drive_group(); // often on a thread of somebody who shares out more of them
    }
    for_each_index(groups, static_cast<int>(groups), [&](std::size_t) {
        try {
            drive_group();
        } catch (...) {
            failed = true;
            throw;
        }
    });
}

std::vector<Run> drive_many(const Scene& scene, const Plan& plan, const std::vector<RunOptions>& options,
                            const ManyOptions& many) {
    std::vector<Run> runs(options.size());
    drive_many(
        scene, plan, options, [&runs](std::size_t number, Run& run) { runs[number] = std::move(run); }, many);
    return runs;
}

} // namespace vast_turn
