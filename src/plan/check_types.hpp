#pragma once

/// Types and units of expressions.

#include <map>
#include <string>
#include <vector>

#include "plan/syntax.hpp"

namespace vast_turn::lang {

/// What the names of a plan stand for, as far as they have been read.
struct Names {
    int sensors = 0;
    Span sensors_span;
    std::vector<std::string> markers;
    std::map<std::string, Expr> lets; // their values, as constants, truths or sides
};

/// Gives every part of the expression its type, puts the values of lets in place and reports what
/// does not fit. An expression that was reported has the type `broken`, which fits everywhere.
void check_types(Expr& e, const Names& names, const Source& source, Problems& problems);

/// Makes one constant of a checked expression that looks nothing up; leaves any other as it is.
void fold(Expr& e);

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
