#pragma once

/// What vet found, as texts for other programs. Formats: docs/files.md.

#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/vet/finding.hpp"

namespace vast_turn {

/// A plan and what was found about it.
struct VettedPlan {
    Plan plan;
    VetReport report;
};

/// Findings, allowed ones, what could not be decided and numbers, plan by plan.
std::string vet_json(const std::vector<VettedPlan>& plans);

/// As SARIF 2.1.0 (OASIS standard "Static Analysis Results Interchange Format", 2020): one run, a rule for each kind of
/// finding, a result for each finding; allowed ones are suppressed results, one-line cures are fixes.
std::string vet_sarif(const std::vector<VettedPlan>& plans);

} // namespace vast_turn
