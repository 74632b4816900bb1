#pragma once

/// Independent work on all cores.

#include <cstddef>
#include <functional>

namespace vast_turn {

/// Calls `work` with 0 .. count - 1, on so many threads (0: as many as there are), in any order. What one of them
/// throws is thrown here.
void for_each_index(std::size_t count, int threads, const std::function<void(std::size_t)>& work);

} // namespace vast_turn
