#pragma once

/// Pieces of C: names, literals, comments.

#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/emit/c_source.hpp"

namespace vast_turn::emit {

using runtime::NumberKind;

/// A C identifier made of a name: other characters become `_`.
std::string c_name(std::string_view name);

/// The same in capitals, for constants.
std::string c_constant(std::string_view name);

/// The same names, with a number behind those that would stand for two.
std::vector<std::string> told_apart(std::vector<std::string> names);

/// A number as a literal of the kind; a negative one in brackets.
std::string c_number(double x, NumberKind numbers);

/// Text that may stand in a comment of C, on one line.
std::string c_comment(std::string_view text);

/// An expression without the brackets around the whole of it: of a condition some compilers warn of a second pair.
std::string unbracketed(const std::string& expression);

/// A string literal with its quotes.
std::string c_string(std::string_view text);

/// A plan's own words, so that CPieces leaves them as they are; `bared` takes that back when all is written.
std::string veiled(std::string text);
std::string bared(std::string text);

/// Text of C whose names and literals are still open: `@` stands for the name that all begin with and an underscore,
/// `$` for the same in capitals, and a literal with `_` behind it becomes one of the kind of number.
class CPieces {
public:
    CPieces(std::string name, NumberKind numbers);

    /// The piece with its names and literals.
    std::string operator()(std::string_view piece) const;
    std::string number(double x) const { return c_number(x, numbers_); }
    const std::string& name() const { return name_; }
    NumberKind numbers() const { return numbers_; }

private:
    std::string name_;
    std::string capitals_;
    NumberKind numbers_;
};

} // namespace vast_turn::emit
