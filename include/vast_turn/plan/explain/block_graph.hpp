#pragma once

/// The blocks of a plan and the ways between them, as a graph.

#include <string>

#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

/// Graphviz DOT: a box for each block, a full arrow for `do` (which comes back), a heavy one for `become`, a
/// dashed one for what a guard does; `halt` is a node of its own. An arrow tells when it is taken.
std::string block_graph(const Plan& plan);

} // namespace vast_turn
