#pragma once

/// The words of a plan's text.

#include <string>
#include <string_view>
#include <vector>

#include "plan/text/source.hpp"

namespace vast_turn::lang {

enum class TokenKind {
    word,    // a name or a word of the language
    number,  // digits; a unit written on to it is in `unit`
    string,  // "..." ; `text` is what stands between the quotes
    pattern, // [...] ; `text` is what stands between the brackets
    symbol,  // one of -> <= >= == != < > + - * / ( ) { } , =
    line_end,
    text_end,
};

struct Token {
    TokenKind kind = TokenKind::text_end;
    std::string text;
    std::string unit;
    double value = 0.0;
    bool cut_off = false; // a string or pattern that its line end cut off; reported already
    Span span;
};

/// Cuts the text into tokens. A line end is left out where the rule or item goes on: inside ( ) and
/// after , -> and or. What is no token is reported and passed over. The last token is text_end.
std::vector<Token> tokenize(const Source& source, Problems& problems);

/// "`ahead`", "the end of the line" and so on, for messages.
std::string describe(const Token& token);

} // namespace vast_turn::lang
