#pragma once

/// Which way a plan took at its `if`s.

#include <cstddef>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/trial/parting.hpp"

namespace vast_turn {

/// Every `if` that was asked from a look of a run on, up to and with another; found by driving the run again. One that
/// is asked look by look with the same answer is told once. Of very many the last hundreds.
/// Their times are left to whoever has the run's looks.
std::vector<AskedIf> asked_ifs(const Scene& scene, const Plan& plan, const RunOptions& options, std::size_t from,
                               std::size_t until);

} // namespace vast_turn
