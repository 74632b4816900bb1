#pragma once

/// Independent jobs with results of their own, on the threads of this process or in a crew of several.

#include <cstddef>
#include <functional>
#include <type_traits>
#include <vector>

#include "vast_turn/base/crew.hpp"

namespace vast_turn {

/// Where jobs are done.
struct Workers {
    Crew* crew = nullptr; ///< null: here alone
    int threads = 0;      ///< of each process; 0: as many as there are, in a crew one
};

/// As Crew::share(), without a crew by for_each_index(). What a job throws is thrown here, in a crew in every process.
void share_out(const Workers& workers, std::size_t count, const std::function<void(std::size_t)>& work,
               const JobResults& results, const std::function<void(std::size_t)>& arrived = {});

/// How many jobs, at most so many, go well together as one when there are this many: each thread of each process gets
/// some still. The same in all processes.
std::size_t jobs_together(const Workers& workers, std::size_t count, std::size_t most);

/// Where a list's entries lie.
template <class Result> JobResults results_in(std::vector<Result>& list) {
    static_assert(std::is_trivially_copyable_v<Result>);
    return {list.data(), sizeof(Result)};
}

} // namespace vast_turn
