#pragma once

/// A plan as plain C, to be compiled into a robot's own program.
///
/// What comes out is C99 that needs nothing but <stdbool.h> and <stdint.h>: no heap, no recursion, no library. One
/// function decides one look. Its answers are those of runtime::Machine, look for look: it takes the same steps in the
/// same order with the same arithmetic.

#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/runtime/arithmetic.hpp"

namespace vast_turn {

/// What is wished of the C that comes out.
struct CSourceOptions {
    runtime::NumberKind numbers = runtime::NumberKind::binary64; ///< of all quantities
    std::string name; ///< what every name in it begins with, and its files' name; empty: made from the plan's name
};

/// How wide a chip's words are, which decides how much memory a struct takes.
enum class ChipKind : std::uint8_t {
    bits_8,  ///< nothing is aligned, `int` and pointers have 2 bytes, `double` has 4
    bits_32, ///< `int` and pointers have 4 bytes
    bits_64, ///< pointers have 8: a computer
};

/// A pair of files, and what their program needs.
struct CSource {
    std::string name;                ///< a C identifier; the files are meant to be called so
    std::string header;              ///< text of NAME.h
    std::string source;              ///< text of NAME.c, which includes it
    std::vector<std::string> inputs; ///< fields of the look that the plan asks for, in their order
    std::size_t state_bytes[3] = {}; ///< of the struct with all that it remembers, by ChipKind
};

/// Writes a plan as C. Never fails: what can be compiled can be written. What an identifier cannot hold of the name
/// becomes `_`; a name that begins with a digit gets `plan_` in front.
CSource c_source(const Plan& plan, const CSourceOptions& options = {});

} // namespace vast_turn
