#pragma once

/// Where plans lead, driven in rounds from every start; and what a plan that remembers does at junctions, since a robot
/// that is set before a junction begins anew and knows nothing of the junctions before.

#include "vast_turn/trial/junction_choices.hpp"

namespace vast_turn {

/// Whether what a plan does at a junction may hang on what it did before: it has a var, hands over for good (`become`),
/// or begins with an errand, which a robot on its way has behind it.
bool remembers(const Plan& plan);

/// A plan's choices at all junctions, and where they lead.
struct PlanRoutes {
    std::vector<Arm> arms;    ///< as find_choices() has them; those that rounds came to by what was done there
    std::vector<Reach> reach; ///< from each start of the course
    bool in_rounds = false;   ///< whether arms are told by rounds
};

/// find_choices(), and four rounds from every start, each of `round_s` at most, by which the reach is told; where a
/// round neither ends nor circles in its time, by the table (find_reach()). Of a plan that remembers, arms that rounds
/// came to are told by them: their robots are visits, and where one round left by several exits `by_turns` has them in
/// order. Of other plans those at which most visits did otherwise than most robots that were set there are told by
/// their visits too (without an order). The same for any number of threads. Throws InputError as drive() does.
PlanRoutes find_routes(const Scene& scene, const Plan& plan, const ChoiceOptions& options = {});

} // namespace vast_turn
