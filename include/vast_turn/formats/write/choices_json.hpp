#pragma once

/// What plans do at each junction, as JSON (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/trial/junction_choices.hpp"

namespace vast_turn {

/// What a plan does at each junction and where that leads.
struct PlanChoices {
    /// By whose name and file the rest is told: two plans may have one name.
    Plan plan;
    std::vector<Arm> arms;
    std::vector<Reach> reach;
    bool in_rounds = false; ///< as PlanRoutes has it
};

/// By plan: every junction from every side, and where that leads from each start.
std::string choices_json(const RouteGraph& graph, const std::vector<PlanChoices>& all);

} // namespace vast_turn
