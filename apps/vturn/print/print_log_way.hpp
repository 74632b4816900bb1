#pragma once

#include "cli.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/recorded/log_comparison.hpp"

namespace vturn {

/// A log on its course: its way, where it parts from the map's run, and whether it lies within the days.
void print_log_way(const Streams& streams, const vast_turn::Plan& plan, const vast_turn::Robot& robot,
                   const vast_turn::LogComparison& log);

} // namespace vturn
