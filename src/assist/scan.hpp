#pragma once

/// The tokens of a plan's text with what they are: blocks, names, comments. Works on broken texts.

#include <optional>
#include <string>
#include <vector>

#include "plan/text/token.hpp"
#include "vast_turn/assist/written_plan.hpp"

namespace vast_turn::assist {

constexpr std::size_t no_token = static_cast<std::size_t>(-1);

struct Scan {
    std::vector<lang::Token> tokens;
    std::vector<TextSpan> comments;
    std::vector<TextBlock> blocks;
    std::vector<NamedThing> names;
    std::vector<int> name_of_token; ///< the number of the name that a token means, -1 for none

    /// The token that ends behind `byte` and begins at or before it; with `touching` also one that ends right there.
    std::size_t token_at(std::size_t byte, bool touching) const;
    /// The last token that begins before `byte` and ends at or before it.
    std::size_t token_before(std::size_t byte) const;
    /// The block in which a byte lies, -1 for none.
    int block_at(std::size_t byte) const;
    const lang::Token& token(std::size_t i) const { return tokens[i]; }
    bool is(std::size_t i, std::string_view text) const {
        return i < tokens.size() && tokens[i].kind != lang::TokenKind::string &&
               tokens[i].kind != lang::TokenKind::pattern && tokens[i].text == text;
    }
};

Scan scan(std::string_view text);

} // namespace vast_turn::assist
