#pragma once

/// What vet knows of a plan's rules before any drive.

#include <cstdint>
#include <vector>

#include "plan/explain/junction_rules.hpp"
#include "vast_turn/plan/plan.hpp"

namespace vast_turn::vetting {

struct RuleKnowledge {
    explicit RuleKnowledge(const Plan& plan);
    /// By number: asks for a marker, and then does more than to note it or to go on.
    std::vector<bool> turns_by_marker;
    /// By number: asks what the line sensors see.
    std::vector<bool> asks_line;
    /// By number: ends the run, and asks nothing but what the line sensors see and for how long.
    std::vector<bool> halts_by_line;
    /// By number: what those do that are meant for junctions.
    std::vector<JunctionRule> for_junctions;
    /// Whether a rule (or an item's limit) asks for a marker of the plan.
    bool asks_marker(RuleId rule, std::size_t marker) const { return (markers_[rule.index()] >> marker & 1U) != 0; }
    /// By marker: the looks that a rule wants it to last, at this time between two.
    std::vector<int> looks_needed(const Plan& plan, double look_ms) const;

private:
    std::vector<std::uint32_t> markers_; ///< by number: those that it asks for
};

} // namespace vast_turn::vetting
