#pragma once

/// Pictures of a plan's blocks.

#include <string>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// The blocks of a plan and the ways between them (plan/explain/block_graph.hpp), laid out by Graphviz' program `dot`,
/// which is started as it is found in PATH, without a shell and without files. Throws InputError when that is not
/// installed or fails.
std::string draw_blocks(const Plan& plan, PictureFormat format);

} // namespace vast_turn
