#include "plan/text/grammar.hpp"

#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "plan/text/syntax.hpp"
#include "plan/text/words.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vast_turn::lang {

namespace {

constexpr int deepest_brackets = 48; // brackets within brackets; also bounds the recursion here

template <class Node> Expr make(Node node, Span span) {
    Expr e;
    e.node = std::move(node);
    e.span = span;
    return e;
}

class ExpressionParser {
public:
    explicit ExpressionParser(Cursor& cursor) : cursor_(cursor) {}

    Expr parse() { return either(); }
    Expr quantity() { return sum(); }
    Expr side() { return negation(); }

    Expr number() {
        const Token token = cursor_.take();
        std::string unit = token.unit;
        Span span = token.span;
        std::string text = token.text + unit;
        if (unit.empty() && cursor_.is(TokenKind::word) && find_unit(cursor_.peek().text)) {
            unit = cursor_.peek().text;
            text = token.text + (unit == "look" || unit == "looks" ? " " : "") + unit;
            span.to = cursor_.take().span.to;
        }
        Expr e = make(Constant{token.value, {}, std::move(text)}, span);
        if (!unit.empty()) {
            apply_unit(e, unit);
        }
        return e;
    }

private:
    void apply_unit(Expr& e, const std::string& unit) {
        const auto word = find_unit(unit);
        if (!word) {
            cursor_.problems().error(e.span, fmt::format("`{}` is no unit{}", unit, did_you_mean(unit, unit_words())),
                                     fmt::format("units are {}", one_of(unit_words())));
            e.type.base = Base::broken;
            return;
        }
        auto& constant = *e.as<Constant>();
        constant.value *= word->factor;
        constant.unit = word->unit;
    }

    Expr binary(Expr left, Op op, Expr right) {
        Expr e = make(Binary{op}, {left.span.from, right.span.to});
        e.args.push_back(std::move(left));
        e.args.push_back(std::move(right));
        return e;
    }

    /// A chain `a op b op c`, read without recursion; its length is bounded like the depth, since
    /// the tree it makes is as deep as the chain is long.
    template <class Next> Expr chain(std::initializer_list<Op> ops, bool words, Next next) {
        Expr left = next();
        for (int links = 0;; ++links) {
            const Token& token = cursor_.peek();
            const bool fits = token.kind == (words ? TokenKind::word : TokenKind::symbol);
            const Op op = fits ? operator_of(token.text) : Op::end;
            if (std::find(ops.begin(), ops.end(), op) == ops.end()) {
                return left;
            }
            if (links >= deepest_brackets) {
                cursor_.fail("this expression is too long", "part it: give pieces a name with let, or use two rules");
            }
            cursor_.take();
            left = binary(std::move(left), op, next());
        }
    }

    Expr either() {
        return chain({Op::either}, true, [this] { return both(); });
    }
    Expr both() {
        return chain({Op::both}, true, [this] { return prefix(); });
    }

    Expr prefix() {
        if (!cursor_.is_word("not") && !cursor_.is_word("fresh")) {
            return lasting();
        }
        const Depth depth(*this);
        const Token word = cursor_.take();
        Expr inner = prefix();
        const bool bare = inner.is<Lasting>() && inner.span.from == inner.args[0].span.from;
        if (bare) {
            cursor_.problems().error(
                {word.span.from, inner.span.to},
                fmt::format("`{}` and `lasting` need brackets to say which comes first", word.text),
                word.text == "not" ? "write `(not ...) lasting ...` or `not (... lasting ...)`"
                                   : "write `fresh (... lasting ...)`");
        }
        const Span span{word.span.from, inner.span.to};
        Expr e = word.text == "not" ? make(Unary{Op::invert}, span) : make(Fresh{}, span);
        e.args.push_back(std::move(inner));
        return e;
    }

    Expr lasting() {
        Expr e = comparison();
        if (cursor_.take_word("lasting")) {
            Expr limit = sum();
            Expr whole = make(Lasting{}, {e.span.from, limit.span.to});
            whole.args.push_back(std::move(e));
            whole.args.push_back(std::move(limit));
            return whole;
        }
        return e;
    }

    Expr comparison() {
        const auto is_comparison_next = [this] {
            return cursor_.is(TokenKind::symbol) && is_comparison(operator_of(cursor_.peek().text));
        };
        Expr left = sum();
        if (cursor_.is_symbol("=") && cursor_.peek(1).kind == TokenKind::symbol && cursor_.peek(1).text == ">") {
            cursor_.fail("an arrow is written ->", "write CONDITION -> what to do");
        }
        if (cursor_.is_symbol("=")) {
            cursor_.fail("a comparison for equality is written ==", "write ==");
        }
        if (!is_comparison_next()) {
            return left;
        }
        const Op op = operator_of(cursor_.take().text);
        Expr e = binary(std::move(left), op, sum());
        if (is_comparison_next()) {
            cursor_.fail("comparisons do not chain", "write `a < b and b < c`");
        }
        return e;
    }

    Expr sum() {
        return chain({Op::add, Op::subtract}, false, [this] { return product(); });
    }
    Expr product() {
        return chain({Op::multiply, Op::divide}, false, [this] { return negation(); });
    }

    Expr negation() {
        if (!cursor_.is_symbol("-")) {
            return primary();
        }
        const Depth depth(*this);
        const Token sign = cursor_.take();
        Expr inner = negation();
        Expr e = make(Unary{Op::negate}, {sign.span.from, inner.span.to});
        e.args.push_back(std::move(inner));
        return e;
    }

    Expr primary() {
        const Token& token = cursor_.peek();
        switch (token.kind) {
        case TokenKind::number: return number();
        case TokenKind::pattern: return pattern();
        case TokenKind::word: return word();
        default: break;
        }
        if (cursor_.is_symbol("(")) {
            const Depth depth(*this);
            const Span open = cursor_.take().span;
            Expr e = either();
            if (!cursor_.is_symbol(")")) {
                cursor_.fail(fmt::format("expected ) here, found {}", describe(cursor_.peek())), "close the bracket");
            }
            e.span = {open.from, cursor_.take().span.to};
            return e;
        }
        cursor_.fail(fmt::format("expected a value or a condition here, found {}", describe(token)),
                     "write a pattern like [#.], a comparison like travelled > 45mm, or a number");
    }

    Expr pattern() {
        const Token token = cursor_.take();
        if (token.cut_off) {
            throw Unreadable{};
        }
        PatternMarks pattern;
        bool broken = false;
        int count = 0;
        for (const char c : token.text) {
            if (c == ' ') {
                continue;
            }
            if (c != '#' && c != '.' && c != '?') {
                cursor_.problems().error(token.span,
                                         fmt::format("the pattern [{}] has a mark that is none", token.text),
                                         "marks are # for line, . for floor, ? for either");
                broken = true;
                break;
            }
            if (count < max_sensors) {
                const auto bit = static_cast<std::uint8_t>(1U << count);
                pattern.mask = static_cast<std::uint8_t>(pattern.mask | (c == '?' ? 0U : bit));
                pattern.bits = static_cast<std::uint8_t>(pattern.bits | (c == '#' ? bit : 0U));
            }
            ++count;
            pattern.marks += c;
        }
        Expr e = make(std::move(pattern), token.span);
        e.type.base = broken ? Base::broken : e.type.base;
        return e;
    }

    Expr word() {
        const Token token = cursor_.take();
        if (token.text == "true" || token.text == "false") {
            return make(Truth{token.text == "true"}, token.span);
        }
        if (token.text == "left" || token.text == "right") {
            return make(SideWord{token.text == "left" ? 1.0 : -1.0}, token.span);
        }
        if (token.text == "heard") {
            return heard(token);
        }
        const InputWord* input = find_input(token.text);
        if (cursor_.take_word("at")) {
            return name(token, behind("at", "the name of a colour sensor", "write amber at left"));
        }
        if (input != nullptr && input->op == Op::turned && cursor_.take_word("by")) {
            return name(token, behind("by", "where the turn is taken from", "write turned by gyro"));
        }
        if (cursor_.is_symbol("(")) {
            const FunctionWord* function = find_function(token.text);
            Expr e = make(Call{function != nullptr ? function->op : Op::end, token.text}, token.span);
            arguments(e);
            return e;
        }
        return make(Name{token.text, {}}, token.span);
    }

    Expr name(const Token& word, std::string with) {
        return make(Name{word.text, std::move(with)}, {word.span.from, cursor_.last_end()});
    }

    std::string behind(const char* word, const char* what, const char* cure) {
        if (!cursor_.is(TokenKind::word)) {
            cursor_.fail(fmt::format("expected {} after `{}`, found {}", what, word, describe(cursor_.peek())), cure);
        }
        return cursor_.take().text;
    }

    Expr heard(const Token& word) {
        if (!cursor_.take_symbol("(") || !cursor_.is(TokenKind::word)) {
            cursor_.fail(fmt::format("expected a name in brackets after `heard`, found {}", describe(cursor_.peek())),
                         "write heard(bell)");
        }
        std::string text = cursor_.take().text;
        if (!cursor_.take_symbol(")")) {
            cursor_.fail(fmt::format("expected ) here, found {}", describe(cursor_.peek())), "close the bracket");
        }
        return make(Heard{no_slot, std::move(text)}, {word.span.from, cursor_.last_end()});
    }

    void arguments(Expr& call) {
        const Depth depth(*this);
        cursor_.take();
        while (!cursor_.is_symbol(")")) {
            call.args.push_back(either());
            if (!cursor_.take_symbol(",") && !cursor_.is_symbol(")")) {
                cursor_.fail(fmt::format("expected , or ) here, found {}", describe(cursor_.peek())),
                             "part arguments by commas and close the bracket");
            }
        }
        call.span.to = cursor_.take().span.to;
    }

    /// Counts how deep the recursion is and gives up when it is too deep.
    class Depth {
    public:
        explicit Depth(ExpressionParser& parser) : parser_(parser) {
            if (parser_.depth_ >= deepest_brackets) {
                parser_.cursor_.fail("brackets go too deep here", "part the expression: give pieces a name with let");
            }
            ++parser_.depth_;
        }
        Depth(const Depth&) = delete;
        Depth& operator=(const Depth&) = delete;
        ~Depth() { --parser_.depth_; }

    private:
        ExpressionParser& parser_;
    };

    Cursor& cursor_;
    int depth_ = 0;
};

} // namespace

Expr parse_expression(Cursor& cursor) { return ExpressionParser(cursor).parse(); }

Expr parse_quantity(Cursor& cursor) { return ExpressionParser(cursor).quantity(); }

Expr parse_side(Cursor& cursor) { return ExpressionParser(cursor).side(); }

Expr parse_signed_number(Cursor& cursor) {
    const bool negative = cursor.take_symbol("-");
    if (!cursor.is(TokenKind::number)) {
        cursor.fail(fmt::format("expected a number here, found {}", describe(cursor.peek())),
                    "write a number like 0.4");
    }
    Expr e = ExpressionParser(cursor).number();
    auto& constant = *e.as<Constant>();
    constant.value = negative ? -constant.value : constant.value;
    return e;
}

} // namespace vast_turn::lang
