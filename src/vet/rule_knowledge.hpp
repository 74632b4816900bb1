#pragma once

/// What vet knows of a plan's rules before any drive.

#include <vector>

#include "vast_turn/plan/plan.hpp"

namespace vast_turn::vetting {

struct RuleKnowledge {
    explicit RuleKnowledge(const Plan& plan);
    /// By number: asks for a marker, and then does more than to note it or to go on.
    std::vector<bool> turns_by_marker;
    /// By number: asks what the line sensors see.
    std::vector<bool> asks_line;
    /// By marker: the looks that a rule wants it to last, at this time between two.
    std::vector<int> looks_needed(const Plan& plan, double look_ms) const;
};

} // namespace vast_turn::vetting
