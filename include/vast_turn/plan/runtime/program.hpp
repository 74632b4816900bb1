#pragma once

/// The flat program that a plan compiles to: constant tables, no pointers into anything else.
///
/// Freestanding. On a robot the tables lie in read-only memory; on a host ProgramTables of
/// plan/plan.hpp owns them. Numbers are in the base units of the language: mm, ms, degrees, looks,
/// percent.

#include <cstdint>

namespace vast_turn::runtime {

/// One step of an expression or of a rule's acts. Expressions work on a stack of numbers; a truth
/// is 1 or 0, a side is +1 (left) or -1 (right).
enum class Op : std::uint8_t {
    // values: each pushes one number
    constant, // b: index into the constants
    sensor,   // a: sensor, from 0
    raw,      // a: sensor, from 0
    offset,   // by the robot's weights
    weighted, // by the plan's own weights
    seen,
    last_side,
    clock,
    elapsed,   // since the block began
    looks,     // since the block began, 0 in the first
    travelled, // since the block began
    turned,    // degrees since the block began
    heading,
    battery,
    range,   // mm to what is ahead
    button,  // whether the start button is held
    marker,  // b: whether this marker is in view
    pattern, // a: mask, b: the bits under it
    watch,   // b: whether this watch holds
    // arithmetic: pops its operands, pushes the result
    negate,
    add,
    subtract,
    multiply,
    divide,
    min,
    max,
    abs,
    clamp,
    rolled, // pops a side; degrees that its wheel has turned since the block began
    less,
    less_equal,
    greater,
    greater_equal,
    equal,
    not_equal,
    both,
    either,
    invert,
    // motions: pop their numbers, set the wheels
    wheels,
    ahead,
    bend,
    pivot,
    rotate,
    still,
    keep,
    // acts
    once,   // b: where to go on when the rule does not begin to act in this look
    note,   // b: number of the text
    become, // b: block
    halt,
    end,
};

struct Instruction {
    Op op = Op::end;
    std::uint8_t a = 0;
    std::uint16_t b = 0;

    friend constexpr bool operator==(const Instruction&, const Instruction&) = default;
};

inline constexpr std::uint16_t no_code = 0xFFFF;

/// A rule holds when the bits under `mask` equal `bits` and its condition, if any, is true.
struct Rule {
    std::uint8_t mask = 0; ///< 0 for a rule that has no pattern of its own
    std::uint8_t bits = 0;
    std::uint16_t condition = no_code; ///< where its code begins
    std::uint16_t acts = 0;            ///< where its code begins

    friend constexpr bool operator==(const Rule&, const Rule&) = default;
};

/// A habit: its rules lie one after another.
struct Block {
    std::uint16_t first_rule = 0;
    std::uint16_t rules = 0;

    friend constexpr bool operator==(const Block&, const Block&) = default;
};

/// One `lasting`: a condition that is followed at every look, whichever block is in hand.
struct Watch {
    std::uint16_t condition = 0; ///< where its code begins; only watches before it occur in it
    bool in_looks = false;       ///< the limit counts looks, else milliseconds
    double limit = 0.0;

    friend constexpr bool operator==(const Watch&, const Watch&) = default;
};

/// Deepest stack that an expression may need; the compiler refuses more.
inline constexpr int stack_depth = 32;

/// Most transfers (`become`) in one look.
inline constexpr int most_transfers = 16;

/// Views of the tables. Whoever makes it keeps the tables alive.
struct Program {
    const Instruction* code = nullptr;
    const double* constants = nullptr;
    const Rule* rules = nullptr;
    const Block* blocks = nullptr;
    const Watch* watches = nullptr;
    std::uint16_t watch_count = 0;
    std::uint8_t sensors = 0;
    bool own_weights = false; ///< the plan gives its own weights
    double weights[8] = {};   ///< those
};

} // namespace vast_turn::runtime
