#include "base/share_out.hpp"

#include <mutex>

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

} // namespace vast_turn
