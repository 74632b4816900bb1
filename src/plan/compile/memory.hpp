#pragma once

/// Gives out the memory that a plan needs on the robot.

#include <vector>

#include "plan/check/checked.hpp"
#include "vast_turn/runtime/program.hpp"

namespace vast_turn::lang {

/// Memory of one block, or of the plan-wide guards.
struct BlockMemory {
    int cells = 0;
    std::vector<runtime::Fresh> freshes; // guards numbered within the block
};

struct MemoryMap {
    std::vector<const Expr*> watches; // the parts that are followed at every look, inner ones first
    std::vector<int> watch_of;        // by Expr::number: the watch of a lasting or fresh, no_slot for others
    std::vector<int> cell_of;         // by Expr::number: where a fresh or pid keeps its memory, no_slot for others
    BlockMemory plan;                 // its cells count from the first behind the vars
    std::vector<BlockMemory> blocks;
    int frames = 1;
    int cells = 0; // of all that can be in hand at once, with vars and plan

    int watch(const Expr& e) const { return watch_of[static_cast<std::size_t>(e.number)]; }
    int cell(const Expr& e) const { return cell_of[static_cast<std::size_t>(e.number)]; }
};

/// Numbers watches and cells, those of loops in LaidLoop::cell. Points into the expressions of `plan`, which may be
/// moved as a whole, but not copied or changed.
MemoryMap give_out_memory(CheckedPlan& plan, Problems& problems);

/// The cell in which guard `i` of a block with this many arguments keeps when it acted; guards come behind them.
constexpr int guard_cell(std::size_t arguments, std::size_t i) { return static_cast<int>(arguments + i); }

} // namespace vast_turn::lang
