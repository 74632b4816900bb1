#pragma once

/// Plans in one canonical layout.

#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

/// What came of laying out.
struct Formatted {
    std::string text;              ///< empty when the plan has errors
    std::vector<Problem> problems; ///< why it was not laid out
};

/// Lays a plan out: four blanks a level, arrows and comments of neighbours below one another, one blank line between
/// blocks, lines up to 100 columns. Words, their order and comments stay, so the plan compiles to the same
/// program; laying out a second time changes nothing. A plan with errors is left alone.
Formatted format_plan(std::string_view text, std::string_view file);

} // namespace vast_turn
