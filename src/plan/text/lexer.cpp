#include "plan/text/token.hpp"

#include <array>
#include <charconv>

#include <fmt/format.h>

#include "vast_turn/base/utf8.hpp"

namespace vast_turn::lang {

namespace {

bool is_letter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_'; }
bool is_digit(char c) { return c >= '0' && c <= '9'; }

constexpr std::array<std::string_view, 18> symbols = {"->", "<=", ">=", "==", "!=", "<", ">", "+", "-",
                                                      "*",  "/",  "(",  ")",  "{",  "}", ",", "=", ":"};

class Lexer {
public:
    Lexer(const Source& source, Problems& problems) : text_(source.text()), problems_(problems) {}

    std::vector<Token> run() {
        if (text_.starts_with("\xEF\xBB\xBF")) {
            at_ = 3; // a byte order mark, as some editors write it
        }
        while (at_ < text_.size()) {
            next();
        }
        emit_line_end();
        push(TokenKind::text_end, at_, {});
        return std::move(tokens_);
    }

private:
    char peek(std::size_t ahead = 0) const { return at_ + ahead < text_.size() ? text_[at_ + ahead] : '\0'; }

    Token& push(TokenKind kind, std::size_t from, std::string_view text) {
        Token token;
        token.kind = kind;
        token.text = text;
        token.span = {from, at_};
        tokens_.push_back(std::move(token));
        return tokens_.back();
    }

    void next() {
        const char c = peek();
        if (c == '\n') {
            emit_line_end();
            ++at_;
        } else if (c == ' ' || c == '\t' || c == '\r') {
            ++at_;
        } else if (c == '/' && peek(1) == '/') {
            while (at_ < text_.size() && peek() != '\n') {
                ++at_;
            }
        } else if (is_letter(c)) {
            word();
        } else if (is_digit(c)) {
            number();
        } else if (c == '"') {
            string();
        } else if (c == '[') {
            pattern();
        } else {
            symbol();
        }
    }

    void emit_line_end() {
        const bool first = tokens_.empty() || tokens_.back().kind == TokenKind::line_end;
        if (!first && depth_ == 0 && !goes_on(tokens_.back())) {
            push(TokenKind::line_end, at_, {});
        }
    }

    static bool goes_on(const Token& last) {
        if (last.kind == TokenKind::symbol) {
            return last.text == "," || last.text == "->";
        }
        return last.kind == TokenKind::word && (last.text == "and" || last.text == "or");
    }

    void word() {
        const std::size_t from = at_;
        while (is_letter(peek()) || is_digit(peek())) {
            ++at_;
        }
        push(TokenKind::word, from, text_.substr(from, at_ - from));
    }

    void number() {
        const std::size_t from = at_;
        while (is_digit(peek())) {
            ++at_;
        }
        if (peek() == '.' && is_digit(peek(1))) {
            ++at_;
            while (is_digit(peek())) {
                ++at_;
            }
        }
        const std::string_view digits = text_.substr(from, at_ - from);
        const std::size_t unit_from = at_;
        while (is_letter(peek())) {
            ++at_;
        }
        double value = 0.0;
        const auto [end, fault] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
        if (fault != std::errc{} || end != digits.data() + digits.size() || value > 1e9) {
            problems_.error({from, at_}, "this number is too large", "numbers go up to 1000000000");
            value = 0.0;
        }
        Token& token = push(TokenKind::number, from, digits);
        token.value = value;
        token.unit = text_.substr(unit_from, at_ - unit_from);
    }

    /// The text up to `close` on this line; reports when it is missing.
    void enclosed(TokenKind kind, char close, const char* what, const char* cure) {
        const std::size_t from = at_++;
        const std::size_t inner = at_;
        while (at_ < text_.size() && peek() != close && peek() != '\n') {
            ++at_;
        }
        const std::string_view text = text_.substr(inner, at_ - inner);
        const bool closed = peek() == close;
        if (closed) {
            ++at_;
        } else {
            problems_.error({from, at_}, fmt::format("{} is not closed on its line", what), cure);
            depth_ = 0; // the brackets around it are most likely cut off too
        }
        push(kind, from, text).cut_off = !closed;
    }

    void string() { enclosed(TokenKind::string, '"', "this text", "end it with a quotation mark"); }
    void pattern() { enclosed(TokenKind::pattern, ']', "this pattern", "end it with ]"); }

    void symbol() {
        const std::size_t from = at_;
        for (const std::string_view symbol : symbols) {
            if (text_.substr(at_).starts_with(symbol)) {
                at_ += symbol.size();
                push(TokenKind::symbol, from, symbol);
                if (symbol == "(") {
                    ++depth_;
                }
                if (symbol == ")" && depth_ > 0) {
                    --depth_;
                }
                if (symbol == "{" || symbol == "}") {
                    depth_ = 0;
                } // a missing ) must not swallow the blocks below
                return;
            }
        }
        ++at_;
        while (at_ < text_.size() && continues_character(peek())) {
            ++at_;
        }
        problems_.error({from, at_}, "this character has no meaning here", cure_for(text_[from]));
    }

    static std::string cure_for(char c) {
        switch (c) {
        case '#': return "comments begin with //; marks of a pattern stand in [ ]";
        case '.': return "marks of a pattern stand in [ ]; write 0.5, not .5";
        case '!': return "write `not`, or != for unequal";
        case '&': return "write `and`";
        case '|': return "write `or`";
        case ';': return "a line end closes a rule; acts are parted by commas";
        case '\'': return "texts stand in quotation marks \"like this\"";
        default: return "remove it";
        }
    }

    std::string_view text_;
    Problems& problems_;
    std::vector<Token> tokens_;
    std::size_t at_ = 0;
    int depth_ = 0;
};

} // namespace

std::vector<Token> tokenize(const Source& source, Problems& problems) { return Lexer(source, problems).run(); }

std::string describe(const Token& token) {
    switch (token.kind) {
    case TokenKind::text_end: return "the end of the text";
    case TokenKind::line_end: return "the end of the line";
    case TokenKind::string: return fmt::format("the text \"{}\"", token.text);
    case TokenKind::pattern: return fmt::format("the pattern [{}]", token.text);
    case TokenKind::number: return fmt::format("`{}{}`", token.text, token.unit);
    default: return fmt::format("`{}`", token.text);
    }
}

} // namespace vast_turn::lang
