#pragma once

/// The flat program that a plan compiles to: constant tables, no pointers into anything else.
///
/// Freestanding. On a robot the tables lie in read-only memory; on a host ProgramTables of
/// plan/plan.hpp owns them. Numbers are in the base units of the language: mm, ms, degrees, looks,
/// percent.

#include <cstdint>

#include "vast_turn/runtime/arithmetic.hpp"
#include "vast_turn/runtime/look.hpp"

namespace vast_turn::runtime {

/// One step of an expression or of a rule's acts. Expressions work on a stack of numbers; a truth
/// is 1 or 0, a side is +1 (left) or -1 (right).
enum class Op : std::uint8_t {
    /// Values: each pushes one number, in the base units above.
    constant,  ///< b: index into the constants
    sensor,    ///< a: sensor, from 0
    raw,       ///< a: sensor, from 0
    offset,    ///< by the robot's weights
    weighted,  ///< by the plan's own weights
    seen,      ///< how many sensors see line
    last_side, ///< side where the line was last seen, +1 or -1
    clock,     ///< ms since the first look
    elapsed,   ///< since the block began
    looks,     ///< since the block began, 0 in the first
    travelled, ///< since the block began
    turned,    ///< degrees since the block began; a: its source
    heading,   ///< degrees, by the best source; does not wrap
    battery,   ///< percent
    range,     ///< mm to what is ahead
    button,    ///< whether the start button is held
    marker,    ///< b: whether this marker is in view; a: 0 of any sensor, else 1 + the place
    heard,     ///< b: whether this name is heard
    var,       ///< b: its number
    cell,      ///< b: memory of the block in hand: an argument
    fresh,     ///< b: memory of the block in hand: whether there is news
    pattern,   ///< a: mask, b: the bits under it
    watch,     ///< b: whether this watch holds
    /// Arithmetic: pops its operands, the last written first, and pushes the result.
    negate, ///< of one
    add,    ///< of two, as the next three
    subtract,
    multiply,
    divide, ///< by zero gives 0 and counts as a fault: Machine::faults()
    min,    ///< of two
    max,    ///< of two
    abs,    ///< of one
    clamp,  ///< pops value, least, most
    rolled, ///< pops a side; degrees that its wheel has turned since the block began
    less,   ///< of two, as the next five; a truth
    less_equal,
    greater,
    greater_equal,
    equal,
    not_equal,
    both,   ///< of two truths; both have been worked out
    either, ///< likewise
    pid,    ///< pops error, kp, ki, kd; b: where its memory begins
    pid_by, ///< pops error, or takes the offset when a is 1; b: its memory; behind it stands, in b, the first of its
            ///< three gains among the constants
    ramp,   ///< pops from, to; goes along with the limit of the item in hand
    invert, ///< of one truth
    /// Motions: pop their numbers, set the wheels; a: 1 when the last number is not popped, but constant b
    wheels, ///< left, right, percent
    ahead,  ///< power, percent
    bend,   ///< change, power, percent: left gets power - change, right power + change
    pivot,  ///< side, power: the wheel of that side stands
    rotate, ///< side, power: the wheels turn against one another
    still,  ///< both powers 0
    keep,   ///< both powers as they were in the last look
    /// Acts: pop what they need, push nothing.
    once,   ///< b: where to go on when the rule does not begin to act in this look
    note,   ///< b: number of the text
    light,  ///< b: number of the text
    sound,  ///< b: number of the text
    tell,   ///< b: number of the text; pops the value
    set,    ///< b: number of the var; pops the value
    give,   ///< b: number of the argument; pops the value; only in the arguments of a call
    call,   ///< b: number of the call
    become, ///< b: number of the call
    done,   ///< ends the block in hand
    halt,   ///< ends the run
    hold,   ///< stands until its guard no longer holds
    end,    ///< of an expression or of acts
};

/// Where a turn is taken from.
enum class Source : std::uint8_t {
    best,    ///< gyro, else compass, else wheels
    wheels,  ///< from how far each has turned; slips with them
    gyro,    ///< since the first look; does not wrap
    compass, ///< in the course's frame; does not wrap
};

/// One step: what, and up to two numbers whose meaning stands at each Op.
struct Instruction {
    Op op = Op::end;     ///< what to do
    std::uint8_t a = 0;  ///< as said there, 0 when not used
    std::uint16_t b = 0; ///< likewise

    friend constexpr bool operator==(const Instruction&, const Instruction&) = default;
};

/// Where there is no code, no memory or no watch.
inline constexpr std::uint16_t no_code = 0xFFFF;

/// Where no block is meant.
inline constexpr std::uint16_t no_block = 0xFFFF;

/// A rule holds when the bits under `mask` equal `bits` and its condition, if any, is true. A condition
/// that is one pattern or one watch needs no code.
struct Rule {
    std::uint8_t mask = 0; ///< 0 for a rule that has no pattern of its own
    std::uint8_t bits = 0;
    std::uint16_t watch = no_code;     ///< that must hold
    std::uint16_t condition = no_code; ///< where its code begins
    std::uint16_t acts = 0;            ///< where its code begins
    std::uint16_t fresh_cell = 0;      ///< memory of what is fresh in its condition, spent when it acts
    std::uint16_t fresh_cells = 0;     ///< how many follow on one another

    friend constexpr bool operator==(const Rule&, const Rule&) = default;
};

/// A rule that is asked before all others while its block is in hand.
struct Guard {
    std::uint16_t rule = 0;
    std::uint16_t stamp_cell = 0;    ///< memory: the look in which it acted last
    std::uint16_t callee = no_block; ///< the block that it does, while which it sleeps
    bool holds = false;              ///< its last act is `hold`

    friend constexpr bool operator==(const Guard&, const Guard&) = default;
};

/// One `fresh`.
struct Fresh {
    std::uint16_t watch = 0;       ///< its condition
    std::uint16_t cell = 0;        ///< its memory
    std::uint16_t guard = no_code; ///< index of the guard in which it stands
    bool in_limit = false;         ///< it stands in an item's `till`

    friend constexpr bool operator==(const Fresh&, const Fresh&) = default;
};

/// A block that is entered, and its arguments.
struct Call {
    std::uint16_t block = 0;
    std::uint16_t args = no_code;     ///< code of the arguments that remember nothing
    std::uint16_t pid_args = no_code; ///< code of the others

    friend constexpr bool operator==(const Call&, const Call&) = default;
};

/// What an item of an errand does: moves, calls a block, acts once; loop, round and again make a loop, branch and
/// jump lead to another item.
enum class ItemKind : std::uint8_t { move, call, act, loop, round, again, branch, jump };
/// When an item ends: never by itself, when a condition holds, or after so much of something.
enum class LimitKind : std::uint8_t { none, till, way, angle, wheel, time, looks };

/// An item of an errand.
struct Item {
    ItemKind kind = ItemKind::act;
    LimitKind limit = LimitKind::none;
    Source source = Source::best;       ///< of an angle
    bool keeps_marks = false;           ///< loop, round: memory holds where the loop began
    std::uint16_t code = no_code;       ///< motion or acts; branch: its condition; loop: how often
    std::uint16_t limit_code = no_code; ///< condition, or how much
    std::uint16_t other_code = no_code; ///< which wheel; loop: how much it widens
    std::uint16_t target = 0;           ///< call: the call; otherwise the item to go on with
    std::uint16_t cell = no_code;       ///< loop, round, again: memory of the loop
    std::uint16_t scale_cell =
        no_code;                   ///< memory of what the limit is multiplied with; loop: that of the loop around it
    std::uint16_t first_fresh = 0; ///< what is fresh in its condition
    std::uint16_t freshes = 0;

    friend constexpr bool operator==(const Item&, const Item&) = default;
};

/// Memory of a loop, from its cell on.
enum LoopCell : std::uint8_t { loop_rounds, loop_count, loop_factor, loop_scale, loop_look, loop_marks };
/// Cells that a loop keeps its marks in.
inline constexpr int marks_cells = 9;

/// Memory of a pid, from its cell on.
enum PidCell : std::uint8_t { pid_integral, pid_error, pid_ms, pid_look, pid_value, pid_cells };

/// A habit (rules) or an errand (items), with its guards.
struct Block {
    bool is_errand = false;        ///< items are carried out in their order; else rules are asked at every look
    std::uint16_t first_guard = 0; ///< its guards stand together in their table, as do its rules, items and freshes
    std::uint16_t guards = 0;
    std::uint16_t first_rule = 0;
    std::uint16_t rules = 0;
    std::uint16_t first_item = 0;
    std::uint16_t items = 0;
    std::uint16_t first_fresh = 0;
    std::uint16_t freshes = 0;
    std::uint16_t cells = 0; ///< memory that it needs while in hand; its arguments come first

    friend constexpr bool operator==(const Block&, const Block&) = default;
};

/// How long a condition must have been true.
enum class WatchKind : std::uint8_t {
    looks, ///< holds from `limit` looks on
    time,  ///< holds from `limit` milliseconds on
    now,   ///< holds while its condition does: that of a `fresh`
};

/// A condition that is followed at every look, whichever block is in hand.
struct Watch {
    std::uint8_t mask = 0; ///< of a condition that is one pattern, which needs no code
    std::uint8_t bits = 0;
    std::uint16_t condition = no_code; ///< where its code begins; only watches before it occur in it
    WatchKind kind = WatchKind::looks;
    double limit = 0.0; ///< looks or ms

    friend constexpr bool operator==(const Watch&, const Watch&) = default;
};

/// Most arguments of a block.
inline constexpr int most_arguments = 8;

/// Deepest stack that an expression may need; the compiler refuses more.
inline constexpr int stack_depth = 32;

/// Most transfers in one look: each `do`, `become` and end of a block counts.
inline constexpr int most_transfers = 16;

/// Views of the tables. Whoever makes it keeps the tables alive.
struct Program {
    const Instruction* code = nullptr; ///< all expressions and acts, one after another
    const double* constants = nullptr;
    const double* first_vars = nullptr; ///< what the vars begin with
    const Rule* rules = nullptr;
    const Guard* guards = nullptr;
    const Fresh* freshes = nullptr;
    const Call* calls = nullptr;
    const Item* items = nullptr;
    const Block* blocks = nullptr;
    const Watch* watches = nullptr;
    Block plan;                   ///< guards of the whole plan; its cells are those behind the vars
    std::uint16_t vars = 0;       ///< how many; their cells come first
    std::uint16_t rule_count = 0; ///< an answer numbers items behind the rules
    std::uint16_t watch_count = 0;
    std::uint16_t frame_count = 1;             ///< blocks that can be in hand at once
    std::uint16_t cell_count = 0;              ///< memory of vars, guards of the plan and all blocks in hand
    bool counts = true;                        ///< something is counted from where a block or item began
    bool guards_anywhere = true;               ///< there is a guard
    bool freshes_anywhere = true;              ///< there is a `fresh`
    bool arguments_anywhere = true;            ///< a call has arguments
    NumberKind numbers = NumberKind::binary64; ///< how it computes
    std::uint8_t sensors = 0;                  ///< how many line sensors the plan is written for
    bool own_weights = false;                  ///< the plan gives its own weights
    double weights[max_sensors] = {};          ///< those
};

} // namespace vast_turn::runtime
