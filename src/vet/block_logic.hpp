#pragma once

/// The rules of one block as formulas, and what can be said of them for sure.

#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vet/reader.hpp"

namespace vast_turn::vetting {

class BlockLogic {
public:
    /// All that is asked costs of this effort, which must outlive it.
    BlockLogic(const Plan& plan, std::size_t block, Effort& effort);

    std::size_t rules() const { return conditions_.size(); }
    const lang::LaidBlock& block() const { return block_; }
    int first_rule() const { return first_rule_; } ///< number of its first rule in Plan::rules()

    /// Patterns for which no rule holds: in every case, and in some case.
    struct Unanswered {
        PatternSet always;
        PatternSet sometimes;
        bool undecided = false; ///< there may be more
    };
    Unanswered unanswered() const;

    /// Whether a rule can act: its condition holds and that of no rule above it does.
    Verdict can_act(std::size_t rule) const;

    /// Whether its condition can hold at all, whatever the others do.
    Verdict can_hold(std::size_t rule) const;

    /// Rules above it which together hold whenever it does; as few as can be left.
    std::vector<std::size_t> covered_by(std::size_t rule) const;

    /// Whether `a` holds only when `b` does.
    bool implies(std::size_t a, std::size_t b) const;

    /// Patterns in which rule `first` acts though `second`, further down, holds as well.
    PatternSet takes_from(std::size_t first, std::size_t second) const;

    /// Whether a condition says anything about the pattern.
    bool asks_pattern(std::size_t rule) const;

private:
    Verdict in_any_pattern(const std::vector<const Formula*>& all) const;
    std::vector<const Formula*> acting(std::size_t rule) const;

    const lang::LaidBlock& block_;
    int first_rule_;
    Effort& effort_;
    ConditionReader reader_;
    std::vector<Formula> conditions_;
    std::vector<Formula> against_;        ///< their negations
    std::vector<Formula> guards_against_; ///< guards that take the look do not hold
    std::vector<Formula> relations_;
    std::vector<unsigned> patterns_; ///< one of each kind that no condition tells apart
    std::vector<PatternSet> alike_;  ///< those that each stands for
};

} // namespace vast_turn::vetting
