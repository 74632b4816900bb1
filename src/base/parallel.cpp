#include "base/parallel.hpp"

#ifdef VAST_TURN_PLAIN_THREADS
#include <atomic>
#include <exception>
#include <mutex>
#include <thread>
#include <vector>
#else
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>
#endif

namespace vast_turn {

#ifdef VAST_TURN_PLAIN_THREADS

// For the thread sanitizer: Debian's TBB is not built with it, so that it takes every hand-over of work for a race.
// Threads of the standard library it understands, and what the work shares is looked at all the same.
void for_each_index(std::size_t count, int threads, const std::function<void(std::size_t)>& work) {
    std::atomic<std::size_t> next = 0;
    std::exception_ptr thrown;
    std::mutex one_at_a_time;
    const auto share = [&] {
        for (std::size_t i = next++; i < count; i = next++) {
            try {
                work(i);
            } catch (...) {
                const std::scoped_lock lock(one_at_a_time);
                thrown = std::current_exception();
                next = count;
            }
        }
    };
    std::vector<std::jthread> others;
    const unsigned wanted = threads > 0 ? static_cast<unsigned>(threads) : std::thread::hardware_concurrency();
    for (unsigned i = 1; i < wanted; ++i) {
        others.emplace_back(share);
    }
    share();
    others.clear(); // waits for them
    if (thrown) {
        std::rethrow_exception(thrown);
    }
}

#else

void for_each_index(std::size_t count, int threads, const std::function<void(std::size_t)>& work) {
    tbb::task_arena arena(threads > 0 ? threads : tbb::task_arena::automatic);
    arena.execute([&] { tbb::parallel_for(std::size_t{0}, count, [&](std::size_t i) { work(i); }); });
}

#endif

} // namespace vast_turn
