#pragma once

/// The syntax tree of a plan. Plain values: copying a rule copies all of it.

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "plan/text/source.hpp"
#include "vast_turn/runtime/program.hpp"

namespace vast_turn::lang {

/// Powers of the base units mm, ms, degree and look. Percent and plain numbers have none.
struct Unit {
    std::int8_t mm = 0;
    std::int8_t ms = 0;
    std::int8_t deg = 0;
    std::int8_t looks = 0;

    friend constexpr bool operator==(const Unit&, const Unit&) = default;
};

enum class Base : std::uint8_t { number, truth, side, broken };

/// What kind of value an expression has. `broken` is that of an expression already reported.
struct Type {
    Base base = Base::number;
    Unit unit;

    friend constexpr bool operator==(const Type&, const Type&) = default;
};

enum class ExprKind : std::uint8_t {
    constant, // value; `text` is how it is written (a number with its unit, or the name of a let)
    truth,    // value 0 or 1
    side,     // value +1 (left) or -1 (right)
    pattern,  // mask, bits; `text` its marks
    marker,   // a marker's name; value is its number; `with` the colour sensor that must see it, if any
    heard,    // `text` is the name of what was heard; value is its number
    variable, // a var's name; value is its number
    argument, // a parameter's name; value is its number among those of its block
    name,     // an input, which is `op`, or any name before the checker; `with` is the source behind `by`, if any
    call,     // `text`(args); the function is `op`
    unary,    // `op` is negate or invert
    binary,   // `op` is an operator
    lasting,  // args: condition, limit
    fresh,    // args: condition
};

constexpr int no_slot = -1;

using runtime::Op;

/// An operator as it is written: "+", "and", "not" ...; nothing for any other operation.
const char* sign_of(Op op);

/// The operator between two values that is written so; Op::end for none.
Op operator_of(std::string_view sign);

/// Whether it compares: < <= > >= == !=.
constexpr bool is_comparison(Op op) { return op >= Op::less && op <= Op::not_equal; }

struct Expr {
    ExprKind kind = ExprKind::constant;
    Op op = Op::end; // of a name, call, unary and binary: what it looks up or does; end for any other name
    std::string text;
    std::string with;
    double value = 0.0;
    Unit unit; // of a constant
    std::uint8_t mask = 0;
    std::uint8_t bits = 0;
    std::vector<Expr> args;
    Span span;
    Type type;            // set by the checker
    int shared = no_slot; // a pid that was handed to several places by `as`: the same number in each
    int watch = no_slot;  // of lasting and fresh: their watch; set when memory is given out
    int place = no_slot;  // of a marker `at` a colour sensor: its number among the places of the plan
    int cell = no_slot;   // of fresh, pid and argument: where their memory begins
};

enum class ActKind : std::uint8_t { motion, note, light, sound, tell, set, track, call, become, done, halt, hold };

struct Act {
    ActKind kind = ActKind::motion;
    Op motion = Op::end;    // of a motion: which
    std::string name;       // the motion, the text of a note, the block, the device, the var
    std::vector<Expr> args; // of a motion or block; the value of tell, set and track
    Span span;
    Span name_span;
};

/// Whether an act goes elsewhere: nothing may follow it.
constexpr bool is_transfer(ActKind kind) {
    return kind == ActKind::call || kind == ActKind::become || kind == ActKind::done || kind == ActKind::halt ||
           kind == ActKind::hold;
}

struct Rule {
    bool is_else = false;
    bool is_as = false; // `as` another habit: `as_habit`
    bool is_guard = false;
    bool is_mirrored = false;
    bool is_twin = false; // made by `mirrored`
    std::string as_habit;
    std::vector<Expr> as_args;
    Expr condition; // of neither `else` nor `as`
    std::vector<Act> acts;
    Span span;
    std::string written_in; // set when rules are laid out
};

/// When an item of an errand ends.
struct Limit {
    enum class Kind : std::uint8_t { none, till, over };
    Kind kind = Kind::none;
    Expr value;     // the condition, or how much
    std::string by; // where a turn is taken from: wheels, gyro, compass
    bool of_wheel = false;
    Expr wheel; // a side: whose degrees count
    Span span;
};

struct Item;

/// One way of an `if`.
struct Branch {
    bool is_else = false;
    Expr condition;
    std::vector<Item> items;
};

struct Item {
    enum class Kind : std::uint8_t { act, loop, choice };
    Kind kind = Kind::act;
    Act act; // a motion, a call, a side act or a transfer
    Limit limit;
    bool has_count = false;
    Expr count; // of a loop, when has_count
    bool widens = false;
    Expr widening; // of a loop
    std::vector<Item> body;
    std::vector<Branch> branches;
    Span span;
};

struct Param {
    std::string name;
    Span span;
    Type type{Base::broken, {}}; // from the calls
    bool has_pid = false;        // a call gives a pid
};

/// A habit or an errand.
struct Block {
    bool is_errand = false;
    std::string name;
    Span name_span;
    std::vector<Param> params;
    std::vector<Rule> guards;
    std::vector<Rule> rules; // of a habit
    std::vector<Item> items; // of an errand
};

struct Let {
    std::string name;
    Span name_span;
    Expr value;
};

struct MarkerName {
    std::string name;
    Span span;
};

struct PlanTree {
    std::string name;
    int sensors = 0; // 0 when not given, or not readable
    bool sensors_given = false;
    Span sensors_span;
    std::vector<MarkerName> markers;
    std::vector<Expr> weights;
    Span weights_span;
    std::vector<Let> lets;
    std::vector<Let> vars;
    std::vector<Rule> guards; // plan-wide
    std::vector<Block> blocks;
};

/// The text of a condition or of acts in one canonical spelling.
std::string to_text(const Expr& expr);
std::string to_text(const Act& act);
std::string to_text(const std::vector<Act>& acts);
std::string to_text(const Limit& limit);
std::string to_text(const Item& item); ///< of a loop or choice its head

/// Whether it is this function, or this input.
inline bool is_call(const Expr& e, Op op) { return e.kind == ExprKind::call && e.op == op; }
inline bool is_input(const Expr& e, Op op) { return e.kind == ExprKind::name && e.op == op; }
/// Whether it looks a line sensor up: sensor(k), raw(k).
inline bool is_reading(const Expr& e) { return is_call(e, Op::sensor) || is_call(e, Op::raw); }

/// Whether two say the same: equal but for where they stand.
bool same(const Expr& a, const Expr& b);
bool same(const Act& a, const Act& b);

/// "mm", "ms", "deg", "looks", "mm/ms" ..., "no unit".
std::string to_text(const Unit& unit);
std::string to_text(const Type& type);

} // namespace vast_turn::lang
