#pragma once

/// Going anywhere in a run of ten minutes.

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/scene.hpp"

namespace bench {

/// The scene must live as long as the benchmarks run. `name` is of the robot.
void register_stepping(const char* name, const vast_turn::Scene& scene, const vast_turn::Plan& plan);

} // namespace bench
