#include "vast_turn/plan/compile/program_tables.hpp"

#include <algorithm>
#include <iterator>

namespace vast_turn {

runtime::Program ProgramTables::view() const {
    runtime::Program program;
    program.code = code.data();
    program.constants = constants.data();
    program.first_vars = first_vars.data();
    program.rules = rules.data();
    program.guards = guards.data();
    program.freshes = freshes.data();
    program.calls = calls.data();
    program.items = items.data();
    program.blocks = blocks.data();
    program.watches = watches.data();
    program.plan = plan;
    program.vars = static_cast<std::uint16_t>(first_vars.size());
    program.rule_count = static_cast<std::uint16_t>(rules.size());
    program.counts = counts;
    program.guards_anywhere = !guards.empty();
    program.freshes_anywhere = !freshes.empty();
    program.arguments_anywhere = std::any_of(calls.begin(), calls.end(), [](const runtime::Call& call) {
        return call.args != runtime::no_code || call.pid_args != runtime::no_code;
    });
    program.frame_count = frames;
    program.cell_count = cells;
    program.watch_count = static_cast<std::uint16_t>(watches.size());
    program.sensors = sensors;
    program.own_weights = own_weights;
    std::copy(std::begin(weights), std::end(weights), std::begin(program.weights));
    return program;
}

} // namespace vast_turn
