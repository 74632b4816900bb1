#pragma once

/// Conditions of a compiled plan put into words.

#include <string>

#include "plan/compile/memory.hpp"
#include "vast_turn/runtime/machine.hpp"

namespace vast_turn::lang {

/// A number as people write it in a plan: 35mm, 3 looks, left.
std::string with_unit(double value, const Type& type);

/// Evaluates conditions where a machine is now, and says why one does not hold.
class ConditionReader {
public:
    ConditionReader(const runtime::Machine& machine, const MemoryMap& memory, const Look& look)
        : machine_(machine), memory_(memory), look_(look) {}

    /// The value; a truth is 1 or 0.
    double value(const Expr& e) const;
    bool holds(const Expr& e) const { return value(e) > 0.5; }

    /// Why a condition that does not hold does not.
    std::string why_not(const Expr& e) const;

private:
    std::string why_not_lasting(const Expr& e) const;

    const runtime::Machine& machine_;
    const MemoryMap& memory_;
    const Look& look_;
};

} // namespace vast_turn::lang
