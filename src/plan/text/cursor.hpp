#pragma once

/// Walks over the tokens of a plan; shared by the parts of the parser.

#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "plan/text/token.hpp"

namespace vast_turn::lang {

/// Thrown when a rule cannot be read on, after the fault has been reported; caught where the parser
/// can go on (the next line). Never leaves the parser.
struct Unreadable {};

class Cursor {
public:
    Cursor(std::vector<Token> tokens, Problems& problems) : tokens_(std::move(tokens)), problems_(&problems) {}

    const Token& peek(std::size_t ahead = 0) const {
        const std::size_t i = at_ + ahead;
        return i < tokens_.size() ? tokens_[i] : tokens_.back();
    }
    Token take() {
        Token token = peek();
        if (at_ + 1 < tokens_.size()) {
            ++at_;
        }
        return token;
    }
    /// Where the token before the next one ended.
    std::size_t last_end() const { return at_ == 0 ? 0 : tokens_[at_ - 1].span.to; }

    bool is_word(std::string_view word) const { return peek().kind == TokenKind::word && peek().text == word; }
    bool is_symbol(std::string_view s) const { return peek().kind == TokenKind::symbol && peek().text == s; }
    bool is(TokenKind kind) const { return peek().kind == kind; }

    bool take_word(std::string_view word) { return is_word(word) && (take(), true); }
    bool take_symbol(std::string_view s) { return is_symbol(s) && (take(), true); }

    void skip_line_ends() {
        while (is(TokenKind::line_end)) {
            take();
        }
    }

    /// Reports at the next token and gives up the rule.
    [[noreturn]] void fail(std::string message, std::string cure = {}) {
        if (peek().cut_off) {
            throw Unreadable{};
        }
        problems_->error(peek().span, std::move(message), std::move(cure));
        throw Unreadable{};
    }

    Problems& problems() { return *problems_; }

private:
    std::vector<Token> tokens_;
    Problems* problems_;
    std::size_t at_ = 0;
};

/// Runs one part; after a fault goes on behind the line in which it was found, and behind the block
/// when that line opens one.
template <class Part> void guarded(Cursor& cursor, Part part) {
    try {
        part();
    } catch (const Unreadable&) {
        int open = 0;
        while (!cursor.is(TokenKind::text_end) &&
               (open > 0 || (!cursor.is(TokenKind::line_end) && !cursor.is_symbol("}")))) {
            open += cursor.is_symbol("{") ? 1 : (cursor.is_symbol("}") ? -1 : 0);
            cursor.take();
        }
    }
}

/// Tells that the next word is one of the language.
void tell_reserved(Cursor& cursor, const char* what);

/// Takes a new name; fails on a word of the language. `what` is "a marker", "the habit" ...
Token take_name(Cursor& cursor, const char* what);

/// Fails at the `by` of `turned > 90deg by wheels`.
void no_source_behind_comparison(Cursor& cursor);

/// Fails when something follows on the line.
void line_must_end(Cursor& cursor, const char* after);

} // namespace vast_turn::lang
