#pragma once

#include <string>
#include <vector>

#include "plan/check/checked.hpp"
#include "plan/compile/memory.hpp"
#include "vast_turn/plan/compile/program_tables.hpp"

namespace vast_turn::lang {

struct CompiledTables {
    ProgramTables tables;
    std::vector<std::string> texts;
    MemoryMap memory; // points into the checked plan
};

/// Turns a checked plan into the flat program and notes where the memory of its parts is. Reports what is too large.
void generate(CheckedPlan& plan, CompiledTables& out, Problems& problems);

} // namespace vast_turn::lang
