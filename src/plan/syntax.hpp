#pragma once

/// The syntax tree of a plan. Plain values: copying a rule copies all of it.

#include <cstdint>
#include <string>
#include <vector>

#include "plan/source.hpp"

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
    marker,   // a marker's name; value is its number
    name,     // an input, or a let before the checker has put its value there
    call,     // `text`(args)
    unary,    // `text` is - or not
    binary,   // `text` is the operator
    lasting,  // args: condition, limit
};

struct Expr {
    ExprKind kind = ExprKind::constant;
    std::string text;
    double value = 0.0;
    Unit unit; // of a constant
    std::uint8_t mask = 0;
    std::uint8_t bits = 0;
    std::vector<Expr> args;
    Span span;
    Type type; // set by the checker
};

enum class ActKind : std::uint8_t { motion, note, become, halt };

struct Act {
    ActKind kind = ActKind::motion;
    std::string name; // the motion, the text of a note, the block to become
    std::vector<Expr> args;
    Span span;
};

struct Rule {
    bool is_else = false;
    bool is_as = false; // `as` another habit: `as_habit`
    bool is_mirrored = false;
    bool is_twin = false; // made by `mirrored`
    std::string as_habit;
    Expr condition; // of neither `else` nor `as`
    std::vector<Act> acts;
    Span span;
    std::string written_in; // set when rules are laid out
};

struct Habit {
    std::string name;
    Span name_span;
    std::vector<Rule> rules;
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
    std::vector<Habit> habits;
};

/// The text of a condition or of acts in one canonical spelling.
std::string to_text(const Expr& expr);
std::string to_text(const Act& act);
std::string to_text(const std::vector<Act>& acts);

/// Whether two say the same: equal but for where they stand.
bool same(const Expr& a, const Expr& b);
bool same(const Act& a, const Act& b);

/// "mm", "ms", "deg", "looks", "mm/ms" ..., "no unit".
std::string to_text(const Unit& unit);
std::string to_text(const Type& type);

} // namespace vast_turn::lang
