#pragma once

/// What a program needs of the machinery around its rules: what it lacks is not written.

#include <string>
#include <vector>

#include <fmt/format.h>

#include "emit/expressions.hpp"
#include "emit/lean.hpp"
#include "vast_turn/plan/plan.hpp"

namespace vast_turn::emit {

/// One quantity that blocks and items count from where they began.
struct MarkField {
    std::string name; ///< in the struct of marks
    std::string now;  ///< its value in a look
};

/// Everything about a plan that the writers of its parts ask.
struct Shape {
    Shape(const Plan& plan, const CPieces& pieces);
    Shape(const Shape&) = delete;
    Shape& operator=(const Shape&) = delete;

    /// Leaves out what this plan can do without. With the weights of a robot's array its own sensing makes the looks.
    void make_lean(const std::vector<double>& weights);

    const Plan& plan;
    const ProgramTables& tables;
    const CPieces& pieces;
    LeanForm form;
    Expressions expressions;
    std::vector<MarkField> marks;
    bool holds = false;     ///< a guard holds: its time and ways are taken out
    bool guards = false;    ///< there is a guard
    bool errands = false;   ///< there is an errand
    bool transfers = false; ///< a block is done, becomes another or ends
    bool freshes = false;   ///< something is fresh
    int arguments = 0;      ///< most that a call gives
    /// Its one habit is in hand for ever and acts alone: no guard, nothing fresh, nothing that counts from a block's
    /// begin but the first look. What keeps several blocks in hand is then not written.
    bool lone = false;
    bool counts_looks = true; ///< something asks which look this is

    bool reads(runtime::Op op) const { return plan.reads(op); }

    /// In whose words the plan's guards and watches, a block and an item are read.
    Where plan_words() const;
    Where block_words() const { return {"s->now", "f->block_began", "c", {}}; }
    Where item_words() const { return {"s->now", "f->item_began", "c", {}}; }
    /// The cell behind the vars and the guards of the plan: where the first block has its memory.
    int first_cell() const { return static_cast<int>(tables.first_vars.size()) + tables.plan.cells; }
    /// Where the memory of the block in `f` begins.
    std::string cells_of_frame() const;
    /// Where a look's powers go: "s->left", or "out->left_pct".
    std::string power(const char* side) const {
        return form.keeps_powers ? fmt::format("s->{}", side) : fmt::format("out->{}_pct", side);
    }
    /// Whether it remembers which rule acted last; and anything at all of blocks in hand.
    bool keeps_acting() const { return !lone || form.asks_begin; }
    bool keeps_frames() const { return keeps_acting() || !marks.empty(); }
    /// Name of the function of a block, without what stands in front of all names.
    const std::string& block_function(std::size_t block) const { return functions_[block]; }
    /// "line 12: [..#..] -> ahead(cruise)", for comments.
    std::string told(std::size_t rule) const;

private:
    std::vector<std::string> functions_; ///< by block
};

} // namespace vast_turn::emit
