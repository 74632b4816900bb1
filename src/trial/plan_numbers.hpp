#pragma once

/// The numbers of a plan's text, and what each is for.

#include <set>
#include <string>
#include <vector>

#include "trial/plan_changes.hpp"
#include "trial/plan_text.hpp"

namespace vast_turn {

/// Changes of single numbers, and of one that was copied into several lines of a block.
class PlanNumbers {
public:
    /// The text must outlive it.
    explicit PlanNumbers(const PlanText& plan) : plan_(plan) { find_knobs(), join_copies(); }

    /// Each number times several factors; more of them for limits and thresholds in these lines, in which what passes
    /// may be a narrow range.
    std::vector<PlanChange> all(const std::set<int>& acted) const;

    /// A number, from 1, times a factor; `rounded`: to two digits that count, or three behind a leading one.
    PlanChange number(std::size_t knob, double factor, bool rounded = false) const;

private:
    /// A number of the text that may be another.
    struct Knob {
        std::size_t token = 0;
        CureKind kind = CureKind::power;
        std::string let;                 ///< whose value it is part of
        std::vector<std::size_t> also{}; ///< further tokens that become the same
    };

    /// What a number is for is told by the words before it on its line.
    void find_knobs();
    /// The same number for the same in several lines of a block is one slip copied.
    void join_copies();
    bool stands_in_errand(std::size_t at) const;
    /// "look", "mm" ..., also when it is a word of its own.
    std::string unit_of(std::size_t token) const;
    /// By its number in the tree; their count outside of all.
    std::size_t block_of(std::size_t at) const;
    bool counts(std::size_t knob) const;
    void add_counts(std::size_t knob, std::vector<PlanChange>& list) const;
    /// By where its name is used first.
    CureKind kind_of_let(const std::string& name) const;

    const PlanText& plan_;
    std::vector<Knob> knobs_;
};

} // namespace vast_turn
