#pragma once

/// Many runs side by side against the same one after another.

#include <functional>
#include <string>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/day.hpp"
#include "vast_turn/sim/scene.hpp"

namespace bench {

/// 32 runs of 60 s, both ways. All are kept by reference.
void register_side_by_side(const char* name, const vast_turn::Scene& scene, const vast_turn::Plan& plan,
                           const std::vector<vast_turn::DayValue>& day);

/// What came of all that were registered, by the median time of each.
void print_side_by_side(const std::function<double(const std::string&)>& median);

} // namespace bench
