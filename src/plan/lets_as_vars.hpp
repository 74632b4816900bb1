#pragma once

/// Plans of which some lets can be given other values while they run.

#include <set>
#include <string>
#include <string_view>

#include "vast_turn/plan/plan.hpp"

namespace vast_turn::lang {

/// As compile_plan(), but that these lets are vars to all but other lets. It does not compile where the language wants
/// a constant.
Compiled compile_plan(std::string_view text, std::string_view file, const std::set<std::string>& as_vars);

} // namespace vast_turn::lang
