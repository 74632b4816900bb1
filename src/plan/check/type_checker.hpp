#pragma once

/// The types of expressions, found part by part.

#include <string>
#include <utility>
#include <vector>

#include "plan/check/check_types.hpp"
#include "plan/text/words.hpp"

namespace vast_turn::lang {

inline constexpr Type broken_type{Base::broken, {}};
inline constexpr Type truth_type{Base::truth, {}};
inline constexpr Type plain_type{Base::number, {}};

/// A side counts as +1 or -1 where a plain number is wanted.
inline bool is_numeric(const Type& t) { return t.base == Base::number || t.base == Base::side; }

/// Gives one expression and its parts their types; reports what does not fit. type_of_name.cpp and type_of_call.cpp
/// have what names and functions are, type_checker.cpp the rest.
class TypeChecker {
public:
    TypeChecker(Names& names, Where where, const Source& source, Problems& problems)
        : names_(names), where_(where), source_(source), problems_(problems) {}
    void check(Expr& e);

private:
    Type type_of(Expr& e);
    Type fault(Span span, std::string message, std::string cure);
    Type pattern(const Expr& e, const PatternMarks& pattern);
    /// The number of a name in a list that grows as names are used; -1 when it is full.
    static int numbered(std::vector<std::string>& list, const std::string& name, std::size_t most);
    Type heard(const Expr& e, Heard& heard);
    Type marker(Expr& e, const Name& name, std::size_t number);
    Type name(Expr& e, const Name& name);
    Type input(Expr& e, const Name& name, const InputWord& word);
    Type from_let(Expr& e, const Name& name, const Expr& value);
    Type unknown_name(const Expr& e, const Name& name);
    Type call(Expr& e, const Call& call);
    Type sensor(Expr& e, const Call& call);
    Type rolled(const Expr& e);
    Type pid(const Expr& e);
    Type ramp(const Expr& e);
    Type same_units(const Expr& e, const std::string& what);
    Type different_units(const Expr& a, const Expr& b);
    Type unary(const Expr& e, Op op);
    bool wants_truth(const Expr& e);
    Type binary(const Expr& e, Op op);
    Type comparison(const Expr& e, Op op);
    Type lasting(Expr& e);
    Type fresh(const Expr& e) {
        return wants_truth(e.args[0]) && judged_everywhere(e, "fresh") ? truth_type : broken_type;
    }
    /// `lasting` and `fresh` are followed at every look, whichever block is in hand.
    bool judged_everywhere(const Expr& e, const char* word);
    Names& names_;
    Where where_;
    const Source& source_;
    Problems& problems_;
};

} // namespace vast_turn::lang
