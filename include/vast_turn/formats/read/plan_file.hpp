#pragma once

/// Plans from files (`*.plan`; docs/plan-language.md).

#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

/// Reads and compiles a plan file (`*.plan`; see docs/plan-language.md). Throws InputError with
/// every fault found. Warnings are appended to `warnings` when it is given.
Plan load_plan(const std::string& path, std::vector<Problem>* warnings = nullptr);

} // namespace vast_turn
