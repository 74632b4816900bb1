#pragma once

/// The tables of a compiled plan, owned.

#include <cstdint>
#include <vector>

#include "vast_turn/runtime/program.hpp"

namespace vast_turn {

/// Owns the tables of a compiled plan.
struct ProgramTables {
    /// All expressions and acts, one after another, each up to Op::end.
    std::vector<runtime::Instruction> code;
    /// Numbers that the code names, in base units; and what vars begin with.
    std::vector<double> constants;
    std::vector<double> first_vars;
    /// Those of plan-wide guards, then block by block, its guards' before its own.
    std::vector<runtime::Rule> rules;
    /// Plan-wide ones first, then block by block.
    std::vector<runtime::Guard> guards;
    /// Every `fresh`, every place where a block is entered, and the items of errands.
    std::vector<runtime::Fresh> freshes;
    std::vector<runtime::Call> calls;
    std::vector<runtime::Item> items;
    /// By block number, as Plan::blocks().
    std::vector<runtime::Block> blocks;
    /// Inner ones before those in which they occur.
    std::vector<runtime::Watch> watches;
    /// The guards of the whole plan.
    runtime::Block plan;
    /// Blocks that can be in hand at once, and cells of memory for all of them.
    std::uint16_t frames = 1;
    std::uint16_t cells = 0;
    /// Whether anything is counted from where a block or item began.
    bool counts = false;
    /// Line sensors that it is written for, 1 to max_sensors.
    std::uint8_t sensors = 0;
    /// Whether the plan gives weights for `offset`, and these.
    bool own_weights = false;
    double weights[max_sensors] = {};

    /// Views of the tables; valid while this object lives unchanged.
    runtime::Program view() const;

    friend bool operator==(const ProgramTables&, const ProgramTables&) = default;
};

} // namespace vast_turn
