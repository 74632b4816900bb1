#pragma once

/// Pictures of a plan's blocks.

#include <string>
#include <string_view>

#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

/// The blocks of a plan and the ways between them (plan/block_graph.hpp) as "svg", "png" or "pdf", laid out by
/// Graphviz' program `dot`. Throws InputError when that is not installed or fails.
std::string draw_blocks(const Plan& plan, std::string_view format);

} // namespace vast_turn
