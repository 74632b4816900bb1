#pragma once

/// The text of a plan as changes of it need it: with its words and its tree.

#include <algorithm>
#include <cstddef>
#include <string>
#include <vector>

#include "plan/text/syntax.hpp"
#include "plan/text/token.hpp"
#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

/// The text of a plan with its words and its tree. The plan must outlive it.
struct PlanText {
    explicit PlanText(const Plan& plan);

    int line_of(const lang::Token& token) const { return source.line_of(token.span.from); }
    std::string word(const lang::Token& token) const { return part(token.span); }
    std::string part(lang::Span span) const { return text.substr(span.from, span.to - span.from); }

    /// Whether the token before this one reads so; never for the first.
    bool follows(std::size_t token, const char* before) const { return token > 0 && tokens[token - 1].text == before; }

    /// How many changes of one sort are made: each holds the whole text, and a plan may be long.
    std::size_t most_changes() const {
        constexpr std::size_t at_least = 400;
        constexpr std::size_t bytes = std::size_t{50} << 20U;
        return std::max(at_least, bytes / (text.size() + 1));
    }

    /// The whole text with another word in place of a part of it.
    std::string with(lang::Span span, const std::string& now) const {
        std::string changed = text;
        changed.replace(span.from, span.to - span.from, now);
        return changed;
    }

    const lang::Source& source;
    std::string text;
    lang::PlanTree tree;
    std::vector<lang::Token> tokens;
};

} // namespace vast_turn
