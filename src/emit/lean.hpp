#pragma once

/// What a lean program leaves out because its plan can do without it.

#include <cstdint>
#include <string>
#include <vector>

#include "vast_turn/plan/compile/program_tables.hpp"

namespace vast_turn::emit {

/// How a plan's C is written: in full, or without what this plan never asks for. Whatever is left out, the answers are
/// the same.
struct LeanForm {
    bool lean = false;
    bool wired = false;                ///< the look comes from the robot's own sensing: nobody else calls it
    bool numbered = true;              ///< the answer tells which rule and block acted
    bool keeps_powers = true;          ///< some look may leave the wheels as they were
    bool asks_begin = true;            ///< something happens only when a rule begins to act
    bool counts_said = true;           ///< one look might say more than may be said
    double offset_size = 1e9;          ///< the line's offset is never larger
    std::string watch_type{};          ///< each `lasting` is one counter of this type; empty: a struct
    std::vector<std::uint16_t> pids{}; ///< memory cells of PIDs that have structs of their own instead

    bool own_pids() const { return !pids.empty(); }
};

/// What can be left out of a plan. `lone` is Shape's.
LeanForm lean_form(const ProgramTables& tables, bool lone);

/// Whether acts end the run: then the rule whose they are begins to act in that look.
bool halts(const ProgramTables& tables, std::uint16_t acts);

/// Looks in a row for which a watch must have been true.
std::uint32_t looks_of_watch(const runtime::Watch& watch);

/// The side of the line as a number of C, where the look has it as a whole one.
inline constexpr const char* whole_side = "(@number)in->last_side";

/// Cells that a PID takes in the memory of its block.
constexpr std::size_t pid_cells = 5;

/// Whether no term of these gains can leave the range of the arithmetic, for an error of at most that size and a clock
/// of whole microseconds.
bool is_tame_pid(double largest_error, double kp, double kd);

} // namespace vast_turn::emit
