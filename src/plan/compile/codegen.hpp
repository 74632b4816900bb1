#pragma once

#include <string>
#include <vector>

#include "plan/check/checked.hpp"
#include "vast_turn/plan/compile/program_tables.hpp"

namespace vast_turn::lang {

struct CompiledTables {
    ProgramTables tables;
    std::vector<std::string> texts;
};

/// Turns a checked plan into the flat program; notes in its expressions where their memory is. Reports
/// what is too large.
void generate(CheckedPlan& plan, CompiledTables& out, Problems& problems);

} // namespace vast_turn::lang
