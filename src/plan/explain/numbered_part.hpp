#pragma once

/// What stands behind a number of Plan::rules().

#include <cstddef>

#include "plan/check/checked.hpp"

namespace vast_turn {

/// One of both, or neither for a number that is none.
struct NumberedPart {
    const lang::Rule* rule = nullptr;
    const lang::LaidItem* item = nullptr;
};

NumberedPart numbered_part(const lang::CheckedPlan& plan, std::size_t number);

} // namespace vast_turn
