/// The items of an errand.

#include <fmt/format.h>

#include "plan/text/grammar.hpp"
#include "plan/text/syntax.hpp"

namespace vast_turn::lang {

namespace {

constexpr int deepest_blocks = 16; // loops and ifs within each other; bounds the recursion here

class ErrandParser {
public:
    ErrandParser(Cursor& cursor, std::vector<Rule>& guards) : cursor_(cursor), guards_(guards) {}

    /// Items up to the } that closes them, which is left to be taken.
    std::vector<Item> items() {
        std::vector<Item> list;
        while (true) {
            cursor_.skip_line_ends();
            if (cursor_.is(TokenKind::text_end) || cursor_.is_symbol("}") || begins_block()) {
                return list;
            }
            guarded(cursor_, [&] { line(list); });
        }
    }

private:
    bool begins_block() const {
        return cursor_.is_word("habit") || cursor_.is_word("let") || cursor_.is_word("errand");
    }

    void line(std::vector<Item>& list) {
        if (cursor_.take_word("guard")) {
            if (depth_ > 0) {
                cursor_.problems().error(cursor_.peek().span, "a guard belongs to the whole errand",
                                         "put it in front of the loop or if, at the top of the errand");
            }
            guards_.push_back(parse_rule(cursor_, true));
            return;
        }
        do {
            list.push_back(item());
        } while (cursor_.take_symbol(","));
        line_must_end(cursor_, "an item");
    }

    Item item() {
        Item made;
        made.span.from = cursor_.peek().span.from;
        if (cursor_.take_word("loop")) {
            loop(made);
        } else if (cursor_.take_word("if")) {
            choice(made);
        } else if (cursor_.is_symbol("[") || cursor_.is(TokenKind::pattern) || cursor_.is_word("else") ||
                   cursor_.is_word("as")) {
            cursor_.fail("rules stand in habits, an errand is a list of things to do in order",
                         "write `if CONDITION { ... }`, or make this block a habit");
        } else {
            made.act = parse_act(cursor_);
            limit(made.limit);
            made.span.to = cursor_.last_end();
        }
        return made;
    }

    void limit(Limit& made) {
        made.span.from = cursor_.peek().span.from;
        if (cursor_.take_word("till")) {
            made.kind = Limit::Kind::till;
            made.value = parse_expression(cursor_);
            no_source_behind_comparison(cursor_);
        } else if (cursor_.take_word("over")) {
            made.kind = Limit::Kind::over;
            made.value = parse_quantity(cursor_);
            for (const char* sign : {"<", "<=", ">", ">=", "==", "!="}) {
                if (cursor_.is_symbol(sign)) {
                    cursor_.fail("`over` takes a quantity, this is a condition",
                                 "write till for a condition: till seen > 0");
                }
            }
            if (cursor_.take_word("of")) {
                made.of_wheel = true;
                made.wheel = parse_side(cursor_);
                if (!cursor_.take_word("wheel")) {
                    cursor_.fail(fmt::format("expected `wheel` here, found {}", describe(cursor_.peek())),
                                 "write over 280deg of left wheel");
                }
            } else if (cursor_.take_word("by")) {
                if (!cursor_.is(TokenKind::word)) {
                    cursor_.fail(
                        fmt::format("expected where the turn is taken from, found {}", describe(cursor_.peek())),
                        "write over 90deg by gyro");
                }
                made.by = cursor_.take().text;
            }
        }
        made.span.to = cursor_.last_end();
        if (made.kind != Limit::Kind::none && (cursor_.is_word("till") || cursor_.is_word("over"))) {
            cursor_.fail("an item has one limit, this is the second",
                         "join conditions with `or`: till C or travelled > 45mm");
        }
    }

    void loop(Item& made) {
        made.kind = Item::Kind::loop;
        if (!cursor_.is_word("till") && !cursor_.is_word("widening") && !cursor_.is_symbol("{")) {
            made.count = parse_quantity(cursor_);
        }
        if (cursor_.take_word("till")) {
            made.limit.span.from = cursor_.last_end();
            made.limit.kind = Limit::Kind::till;
            made.limit.value = parse_expression(cursor_);
        }
        if (cursor_.take_word("widening")) {
            made.widening = parse_quantity(cursor_);
        }
        made.span.to = cursor_.last_end();
        if (!made.count && made.limit.kind == Limit::Kind::none) {
            cursor_.problems().error(made.span, "this loop never ends",
                                     "write loop 4 { ... } or loop till CONDITION { ... }");
        }
        made.body = body("loop");
    }

    void choice(Item& made) {
        made.kind = Item::Kind::choice;
        do {
            Branch way;
            way.condition = parse_expression(cursor_);
            if (made.branches.empty()) {
                made.span.to = cursor_.last_end();
            }
            way.items = body("if");
            made.branches.push_back(std::move(way));
            if (!else_follows()) {
                return;
            }
        } while (cursor_.take_word("if"));
        Branch last;
        last.is_else = true;
        last.items = body("else");
        made.branches.push_back(std::move(last));
    }

    /// `else` may stand behind the } or on the next line.
    bool else_follows() {
        std::size_t ahead = 0;
        while (cursor_.peek(ahead).kind == TokenKind::line_end) {
            ++ahead;
        }
        const Token& next = cursor_.peek(ahead);
        if (next.kind != TokenKind::word || next.text != "else") {
            return false;
        }
        cursor_.skip_line_ends();
        cursor_.take();
        return true;
    }

    std::vector<Item> body(const char* what) {
        cursor_.skip_line_ends();
        const Token open = cursor_.peek();
        if (!cursor_.is_symbol("{")) {
            cursor_.fail(fmt::format("expected {{ after `{}`, found {}", what, describe(cursor_.peek())),
                         fmt::format("write {} ... {{ what to do }}", what));
        }
        if (depth_ >= deepest_blocks) {
            cursor_.fail("loops and ifs go too deep here", "put the inner part into an errand of its own");
        }
        cursor_.take();
        ++depth_;
        std::vector<Item> list = items();
        --depth_;
        if (!cursor_.take_symbol("}")) {
            cursor_.problems().error(open.span, "this { is not closed", "end it with }");
        }
        if (list.empty() && !cursor_.problems().any_error()) {
            cursor_.problems().error(open.span, fmt::format("there is nothing to do in this `{}`", what),
                                     "write at least one item, or leave it out");
        }
        return list;
    }

    Cursor& cursor_;
    std::vector<Rule>& guards_;
    int depth_ = 0;
};

} // namespace

std::vector<Item> parse_items(Cursor& cursor, std::vector<Rule>& guards) {
    return ErrandParser(cursor, guards).items();
}

} // namespace vast_turn::lang
