#include "base/share_out.hpp"

#include <algorithm>
#include <mutex>
#include <thread>

#include "base/parallel.hpp"

namespace vast_turn {

void share_out(const Workers& workers, std::size_t count, const std::function<void(std::size_t)>& work,
               const JobResults& results, const std::function<void(std::size_t)>& arrived) {
    if (workers.crew != nullptr) {
        const int threads = workers.threads > 0 ? workers.threads : 1;
        if (const auto failed = workers.crew->share(count, threads, work, results, arrived)) {
            work(*failed); // it throws here as it did there
        }
        return;
    }
    std::mutex telling;
    for_each_index(count, workers.threads, [&](std::size_t i) {
        work(i);
        if (arrived) {
            const std::lock_guard lock(telling);
            arrived(i);
        }
    });
}

std::size_t jobs_together(const Workers& workers, std::size_t count, std::size_t most) {
    const std::size_t here = workers.crew == nullptr ? std::max(1U, std::thread::hardware_concurrency()) : 1;
    const std::size_t threads = workers.threads > 0 ? static_cast<std::size_t>(workers.threads) : here;
    const std::size_t all = threads * (workers.crew == nullptr ? 1 : workers.crew->size());
    return std::clamp<std::size_t>((count + all - 1) / all, 1, most);
}

} // namespace vast_turn
