#pragma once

/// The tables of a compiled plan, owned.

#include <cstdint>
#include <vector>

#include "vast_turn/runtime/program.hpp"

namespace vast_turn {

/// Owns the tables of a compiled plan.
struct ProgramTables {
    std::vector<runtime::Instruction> code;
    std::vector<double> constants;
    std::vector<double> first_vars;
    std::vector<runtime::Rule> rules;
    std::vector<runtime::Guard> guards;
    std::vector<runtime::Fresh> freshes;
    std::vector<runtime::Call> calls;
    std::vector<runtime::Item> items;
    std::vector<runtime::Block> blocks;
    std::vector<runtime::Watch> watches;
    runtime::Block plan;
    std::uint16_t frames = 1;
    std::uint16_t cells = 0;
    bool counts = false;
    std::uint8_t sensors = 0;
    bool own_weights = false;
    double weights[max_sensors] = {};

    /// Views of the tables; valid while this object lives unchanged.
    runtime::Program view() const;

    friend bool operator==(const ProgramTables&, const ProgramTables&) = default;
};

} // namespace vast_turn
