#pragma once

/// Types and units of expressions.

#include <cstdint>
#include <map>
#include <string>
#include <vector>

#include "plan/text/syntax.hpp"

namespace vast_turn::lang {

/// Where an expression stands, which decides what may be in it.
enum class Where : std::uint8_t {
    condition,     ///< of a rule, guard, if or till: no pid, no ramp
    value,         ///< of a motion or act: pid, no ramp
    value_in_time, ///< in an item with `over` a time or looks: ramp too
    value_on_way,  ///< in an item with `over` a way or turn: ramp too, but none from or to a standstill
    constant,      ///< of a let, var or weight
};

struct Var {
    int number = 0;
    Type type;
};

/// What the names of a plan stand for, as far as they have been read.
struct Names {
    int sensors = 0;
    Span sensors_span;
    std::vector<std::string> markers;
    std::vector<std::string> heard;   // in the order in which they first occur
    std::vector<std::string> places;  // colour sensors that are named, likewise
    std::map<std::string, Expr> lets; // their values, as constants, truths or sides
    std::map<std::string, Var> vars;
    bool mirrored = false;                      // the rule that is being checked will have a twin
    const std::vector<Param>* params = nullptr; // of the block that is being checked
};

/// Gives every part of the expression its type, puts the values of lets in place and reports what
/// does not fit. An expression that was reported has the type `broken`, which fits everywhere.
void check_types(Expr& e, Names& names, Where where, const Source& source, Problems& problems);

/// Checks an expression that must be a condition.
void check_condition(Expr& e, Names& names, const Source& source, Problems& problems);

/// Makes one constant of a checked expression that looks nothing up; leaves any other as it is.
void fold(Expr& e);

/// Whether this part alone counts from where its block began: travelled, elapsed, rolled(left) ...
bool counts_from_block(const Expr& e);

/// Whether the expression (or a part of it) satisfies a predicate.
template <class Predicate> bool any_part(const Expr& e, Predicate predicate) {
    if (predicate(e)) {
        return true;
    }
    for (const Expr& arg : e.args) {
        if (any_part(arg, predicate)) {
            return true;
        }
    }
    return false;
}

} // namespace vast_turn::lang
