#pragma once

/// Conditions of a checked plan, evaluated and put into words.

#include <string>
#include <vector>

#include "plan/syntax.hpp"
#include "vast_turn/plan/runtime/look.hpp"
#include "vast_turn/plan/runtime/machine.hpp"

namespace vast_turn::lang {

/// Everything that a condition may look up in one look.
struct Facts {
    const Look* look = nullptr;
    double elapsed_ms = 0.0;
    double looks = 0.0;
    double travelled_mm = 0.0;
    double turned_deg = 0.0;
    double rolled_left_deg = 0.0;
    double rolled_right_deg = 0.0;
    double offset = 0.0;
    const runtime::WatchState* watches = nullptr;
};

/// Evaluates a condition and says why it does not hold. `next_watch` is the number of the first watch of
/// this condition (watches are numbered in the order in which conditions are compiled).
class ConditionReader {
public:
    ConditionReader(const Facts& facts, std::size_t next_watch) : facts_(facts), next_watch_(next_watch) {}

    /// The value; a truth is 1 or 0. Each watch in it is counted.
    double value(const Expr& e);
    bool holds(const Expr& e) { return value(e) > 0.5; }

    /// Why a condition that does not hold does not; a watch in it is counted as by value().
    std::string why_not(const Expr& e);

private:
    std::string why_not_lasting(const Expr& e);
    double input(const Expr& e) const;
    double call(const Expr& e);
    double binary(const Expr& e);

    Facts facts_;
    std::size_t next_watch_;
};

/// How many watches a condition has.
std::size_t watches_in(const Expr& e);

} // namespace vast_turn::lang
