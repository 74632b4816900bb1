#pragma once

/// Changes that do not let a failed trip pass, but bring it farther: of two slips one hides what mends the other.

#include <cstddef>
#include <vector>

#include "trial/plan_changes.hpp"

namespace vast_turn {

/// A change that does not let it pass, but brings it farther than without.
struct Farther {
    const PlanChange* change = nullptr; ///< kept by who asks: each holds the whole text
    std::size_t as_expected = 0;        ///< as in TripResult
};

/// Those that are worth trying another with: the two that bring it farthest, and the two likeliest that bring it
/// farther at all; of each line and sort one. In this order.
std::vector<Farther> worth_another(std::vector<Farther> all);

} // namespace vast_turn
