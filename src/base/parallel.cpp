#include "base/parallel.hpp"

#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

namespace vast_turn {

void for_each_index(std::size_t count, int threads, const std::function<void(std::size_t)>& work) {
    tbb::task_arena arena(threads > 0 ? threads : tbb::task_arena::automatic);
    arena.execute([&] { tbb::parallel_for(std::size_t{0}, count, [&](std::size_t i) { work(i); }); });
}

} // namespace vast_turn
