#pragma once

/// From the checked conditions of a plan to formulas.

#include <map>
#include <string>
#include <vector>

#include "plan/check/checked.hpp"
#include "vet/formula.hpp"

namespace vast_turn::vetting {

/// Makes formulas of conditions. All conditions that are to be judged together must be announced first, because a
/// number has as many regions as limits that it is compared with.
class ConditionReader {
public:
    explicit ConditionReader(const lang::CheckedPlan& plan) : plan_(plan) {}

    void announce(const lang::Expr& condition);

    Formula read(const lang::Expr& condition);

    const std::vector<Variable>& variables() const { return variables_; }

    /// What always holds between the variables read so far: `C lasting 5 looks` holds only when `C lasting 3 looks`
    /// does, `amber at left` only when `amber` does.
    std::vector<Formula> relations(Effort& effort) const;

    /// Patterns of this plan's array in which a condition over the pattern alone holds.
    PatternSet all_patterns() const;

private:
    struct Comparison {
        std::string quantity; ///< its text
        double limit = 0.0;
        lang::Op op = lang::Op::end; ///< with the quantity on the left
        bool plain = false;          ///< an input, var or argument and nothing else
        bool is_side = false;
    };
    struct Quantity {
        std::vector<double> limits; ///< ascending
        int variable = -1;
    };
    struct Stay {
        Formula what;
        lang::Unit unit;
        double limit = 0.0;
        Formula whole;
    };

    Comparison comparison_of(const lang::Expr& e) const;
    Formula compare(const lang::Expr& e);
    Formula lasting(const lang::Expr& e);
    int question(const std::string& text, bool loose = false);
    int regions_of(const Comparison& c);
    PatternSet patterns_seen(lang::Op op, double limit) const;

    const lang::CheckedPlan& plan_;
    std::vector<Variable> variables_;
    std::map<std::string, int> questions_;
    std::map<std::string, Quantity> quantities_;
    std::vector<Stay> stays_;
    std::vector<std::pair<int, int>> markers_at_; ///< `at` a sensor, and by any
    int fresh_count_ = 0;
};

} // namespace vast_turn::vetting
