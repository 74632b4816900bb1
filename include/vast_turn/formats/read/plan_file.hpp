#pragma once

/// Plans from files (`*.plan`; docs/plan-language.md).

#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

/// The text of a plan file. Throws InputError when it cannot be read, or is surely a file of another kind: a course, a
/// robot, a picture.
std::string read_plan(const std::string& path);

/// Reads and compiles a plan file (`*.plan`; see docs/plan-language.md). Throws InputError with
/// every fault found. Warnings are appended to `warnings` when it is given.
Plan load_plan(const std::string& path, std::vector<Problem>* warnings = nullptr);

} // namespace vast_turn
