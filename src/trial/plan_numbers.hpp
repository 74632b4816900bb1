#pragma once

/// The numbers of a plan's text, and what each is for.

#include <string>
#include <vector>

#include "plan/text/syntax.hpp"
#include "plan/text/token.hpp"
#include "trial/plan_changes.hpp"

namespace vast_turn {

/// The text of a plan with its words and its tree. The plan must outlive it.
struct PlanText {
    explicit PlanText(const Plan& plan);

    int line_of(const lang::Token& token) const { return source.line_of(token.span.from); }
    std::string word(const lang::Token& token) const {
        return text.substr(token.span.from, token.span.to - token.span.from);
    }

    const lang::Source& source;
    std::string text;
    lang::PlanTree tree;
    std::vector<lang::Token> tokens;
};

/// Changes of single numbers.
class PlanNumbers {
public:
    /// The text must outlive it.
    explicit PlanNumbers(const PlanText& plan) : plan_(plan) { find_knobs(); }

    /// Each number times several factors.
    std::vector<PlanChange> all() const;

    /// A number, from 1, times a factor.
    PlanChange number(std::size_t knob, double factor) const;

private:
    /// A number of the text that may be another.
    struct Knob {
        std::size_t token = 0;
        CureKind kind = CureKind::power;
        std::string let; ///< whose value it is part of
    };

    /// What a number is for is told by the words before it on its line.
    void find_knobs();
    bool stands_in_errand(std::size_t at) const;
    void add_counts(std::size_t knob, std::vector<PlanChange>& list) const;
    /// By where its name is used first.
    CureKind kind_of_let(const std::string& name) const;

    const PlanText& plan_;
    std::vector<Knob> knobs_;
};

} // namespace vast_turn
