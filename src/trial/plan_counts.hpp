#pragma once

/// Counts that a plan may lack.

#include <string>
#include <vector>

#include "trial/plan_text.hpp"

namespace vast_turn {

/// What may stand before a part of a plan's text.
struct MissingCount {
    lang::Span before;
    std::string text;
    double size = 0.0; ///< as in PlanChange
};

/// Vars that are compared with whole numbers, counted up wherever an errand is called or begins and they are not.
std::vector<MissingCount> missing_counts(const PlanText& plan);

/// Counting up those of them that nothing sets: "set met = met + 1".
std::vector<std::string> never_counted(const PlanText& plan);

} // namespace vast_turn
