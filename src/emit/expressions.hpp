#pragma once

/// Expressions of the flat program as expressions of C.
///
/// The stack on which the program works is played through with texts in place of numbers. What each number can be is
/// followed as well: where a sum or product cannot leave the range of the arithmetic, nothing need be asked about it.

#include <cstdint>
#include <string>
#include <vector>

#include "emit/c_text.hpp"
#include "emit/lean.hpp"
#include "vast_turn/plan/compile/program_tables.hpp"

namespace vast_turn::emit {

/// One value while the stack is played through.
struct CValue {
    std::string text;
    bool is_truth = false; ///< of type bool in C
    double low = 0.0;      ///< least and greatest that it can be
    double high = 0.0;

    bool is_constant() const { return !is_truth && low == high; }
};

/// In whose words an expression is read.
struct Where {
    std::string now;      ///< the marks that count now
    std::string began;    ///< the marks from which is counted
    std::string cells;    ///< memory of the block, or of the plan
    std::string progress; ///< how far the item in hand has come, 0 to 1, for `ramp`
};

/// The field in which a look, and where something began, has the turn by a source: by runtime::Source.
extern const char* const turn_fields[4];

class Expressions {
public:
    Expressions(const ProgramTables& tables, const CPieces& pieces, const LeanForm& form)
        : tables_(tables), pieces_(pieces), form_(form) {}

    /// Plays the code from `at` on, up to the first instruction that is no value; `at` is then its place.
    std::vector<CValue> values(std::size_t& at, const Where& where) const;

    /// The whole expression whose code begins at `at`, as a number or as a truth.
    CValue number(std::uint16_t at, const Where& where) const;
    std::string truth(std::uint16_t at, const Where& where) const;

    /// Whether a watch holds.
    std::string watch(std::size_t watch) const;

    /// A value as a number, and as a truth.
    CValue as_number(const CValue& value) const;
    std::string as_truth(const CValue& value) const;

    /// Whether the bits under a mask are these.
    static std::string pattern(unsigned mask, unsigned bits);

    /// A number of the program, and any other.
    CValue constant(double x) const;
    /// Kept within the range of the arithmetic, where it could leave it.
    CValue settled(CValue value) const;

private:
    CValue looked_up(const runtime::Instruction& step, const Where& where) const;
    CValue changed(runtime::Op op, const CValue& x, const Where& where) const;
    CValue joined(runtime::Op op, const CValue& a, const CValue& b, const Where& where) const;
    CValue compared(const char* sign, const CValue& a, const CValue& b) const;
    CValue clamped(const CValue& x, const CValue& low, const CValue& high) const;
    CValue pid(std::size_t& at, std::vector<CValue>& stack, const Where& where) const;

    const ProgramTables& tables_;
    const CPieces& pieces_;
    const LeanForm& form_;
};

} // namespace vast_turn::emit
