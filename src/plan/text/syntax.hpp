#pragma once

/// The syntax tree of a plan. Plain values: copying a rule copies all of it.

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
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

constexpr int no_slot = -1;

using runtime::Op;

/// An operator as it is written: "+", "and", "not" ...; nothing for any other operation.
const char* sign_of(Op op);

/// The operator between two values that is written so; Op::end for none.
Op operator_of(std::string_view sign);

/// Whether it compares: < <= > >= == !=.
constexpr bool is_comparison(Op op) { return op >= Op::less && op <= Op::not_equal; }

// What an expression can be. Those with parts have them in Expr::args, as many as said here.

/// A number that is written out, or stands behind the name of a let.
struct Constant {
    double value = 0.0;
    Unit unit;
    std::string text; ///< how it is written: with its unit, or the name
};

struct Truth {
    bool holds = false;
};

/// A side that is written out: +1 left, -1 right.
struct SideWord {
    double value = 1.0;
};

struct PatternMarks {
    std::uint8_t mask = 0;
    std::uint8_t bits = 0;
    std::string marks;
};

/// A name that has not been looked up; the checker puts what it stands for in its place.
struct Name {
    std::string text;
    std::string with; ///< what stands behind `at` or `by`, if anything
};

struct Input {
    Op op = Op::end;
    std::string text;
    std::string by; ///< where a turn is taken from, if it is said
};

struct MarkerSeen {
    int number = 0; ///< among the markers of the plan
    std::string text;
    std::string at;      ///< the colour sensor that must see it, if any
    int place = no_slot; ///< its number among the places of the plan
};

struct Heard {
    int number = no_slot; ///< among what the plan listens to; from the checker
    std::string text;
};

struct Variable {
    int number = 0;
    std::string text;
};

/// A parameter of the block in which it stands.
struct Argument {
    int number = 0;
    std::string text;
};

/// A function and its arguments; Op::end when there is no such function.
struct Call {
    Op op = Op::end;
    std::string text;
};

/// `-` or `not` before one part.
struct Unary {
    Op op = Op::end;
};

/// An operator between two parts.
struct Binary {
    Op op = Op::end;
};

/// A condition and its limit.
struct Lasting {};

/// A condition.
struct Fresh {};

struct Expr {
    std::variant<Constant, Truth, SideWord, PatternMarks, Name, Input, MarkerSeen, Heard, Variable, Argument, Call,
                 Unary, Binary, Lasting, Fresh>
        node;
    std::vector<Expr> args;
    Span span;
    Type type; // from the checker

    /// Of lasting, fresh and pid in a plan that is laid out: its number, by which others keep what they know of it.
    /// Copies of one pid, which `as` handed to several places, have the same.
    int number = no_slot;

    template <class Node> bool is() const { return std::holds_alternative<Node>(node); }
    /// The node when it is of this kind, else null.
    template <class Node> const Node* as() const { return std::get_if<Node>(&node); }
    template <class Node> Node* as() { return std::get_if<Node>(&node); }
};

/// The value of a number or side that is written out.
std::optional<double> written_value(const Expr& e);

/// What it looks up or does: of inputs, functions and operators; Op::end for the others.
Op op_of(const Expr& e);

/// Whether it is this function, this input, this operator before one part or between two.
inline bool is_call(const Expr& e, Op op) { return e.is<Call>() && e.as<Call>()->op == op; }
inline bool is_input(const Expr& e, Op op) { return e.is<Input>() && e.as<Input>()->op == op; }
inline bool is_unary(const Expr& e, Op op) { return e.is<Unary>() && e.as<Unary>()->op == op; }
inline bool is_binary(const Expr& e, Op op) { return e.is<Binary>() && e.as<Binary>()->op == op; }
/// Whether it looks a line sensor up: sensor(k), raw(k).
inline bool is_reading(const Expr& e) { return is_call(e, Op::sensor) || is_call(e, Op::raw); }
/// Whether it looks this one up, counted from 0 at the left.
bool reads_sensor(const Expr& e, int sensor);

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
    std::optional<Expr> count;    // of a loop
    std::optional<Expr> widening; // of a loop
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

/// Whether two say the same: equal but for where they stand.
bool same(const Expr& a, const Expr& b);
bool same(const Act& a, const Act& b);

/// "mm", "ms", "deg", "looks", "mm/ms" ..., "no unit".
std::string to_text(const Unit& unit);
std::string to_text(const Type& type);

} // namespace vast_turn::lang
