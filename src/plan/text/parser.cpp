#include "plan/text/parser.hpp"

#include <fmt/format.h>

#include "plan/text/grammar.hpp"
#include "plan/text/words.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vast_turn::lang {

namespace {

class Parser {
public:
    Parser(const Source& source, Problems& problems) : cursor_(tokenize(source, problems), problems) {}

    PlanTree run() {
        guarded(cursor_, [this] { plan_line(); });
        while (!at_end()) {
            guarded(cursor_, [this] { top(); });
        }
        return std::move(tree_);
    }

private:
    bool at_end() {
        cursor_.skip_line_ends();
        return cursor_.is(TokenKind::text_end);
    }

    void plan_line() {
        cursor_.skip_line_ends();
        if (!cursor_.take_word("plan")) {
            cursor_.problems().error(cursor_.peek().span,
                                     fmt::format("a plan begins with its name, found {}", describe(cursor_.peek())),
                                     "write plan \"a name\" as the first line");
            return; // the line may well be a good one of another kind
        }
        if (!cursor_.is(TokenKind::string)) {
            cursor_.fail("the name of the plan is missing", "write plan \"a name\"");
        }
        tree_.name = cursor_.take().text;
        line_must_end(cursor_, "the name of the plan");
    }

    void top() {
        if (cursor_.is_word("sensors")) {
            sensors_line();
        } else if (cursor_.is_word("markers")) {
            markers_line();
        } else if (cursor_.is_word("weights")) {
            weights_line();
        } else if (cursor_.is_word("let")) {
            named_value("let", "a constant", tree_.lets);
        } else if (cursor_.is_word("var")) {
            named_value("var", "a var", tree_.vars);
        } else if (cursor_.take_word("guard")) {
            tree_.guards.push_back(parse_rule(cursor_, true));
        } else if (cursor_.is_word("habit") || cursor_.is_word("errand")) {
            block(cursor_.is_word("errand"));
        } else {
            stray();
        }
    }

    [[noreturn]] void stray() {
        const Token& token = cursor_.peek();
        if (token.kind == TokenKind::symbol && token.text == "}") {
            cursor_.problems().error(token.span, "this } closes nothing",
                                     "remove it, or open the block with habit NAME {");
            cursor_.take();
            throw Unreadable{};
        }
        const std::vector<std::string> words = {"sensors", "markers", "weights", "let",
                                                "var",     "guard",   "habit",   "errand"};
        cursor_.fail(fmt::format("expected {} here, found {}{}", one_of(words), describe(token),
                                 token.kind == TokenKind::word ? did_you_mean(token.text, words) : std::string{}),
                     "rules stand inside a block: habit NAME { ... }");
    }

    void sensors_line() {
        const Span span = cursor_.take().span;
        const bool again = tree_.sensors_given;
        tree_.sensors_given = true;
        if (!cursor_.is(TokenKind::number) || cursor_.peek().text.find('.') != std::string::npos ||
            !cursor_.peek().unit.empty() || cursor_.peek().value < 1 || cursor_.peek().value > max_sensors) {
            cursor_.fail(fmt::format("expected how many line sensors there are, 1 to {}, found {}", max_sensors,
                                     describe(cursor_.peek())),
                         "write a whole number, for example sensors 2");
        }
        const Token number = cursor_.take();
        if (again) {
            cursor_.problems().error(span, "sensors is given twice", "keep one of the two lines");
        } else {
            tree_.sensors = static_cast<int>(number.value);
            tree_.sensors_span = {span.from, number.span.to};
        }
        line_must_end(cursor_, "the number of sensors");
    }

    void markers_line() {
        const Span span = cursor_.take().span;
        if (!tree_.markers.empty()) {
            cursor_.problems().error(span, "markers is given twice", "put all names into one line");
        }
        do {
            const Token name = take_name(cursor_, "a marker");
            tree_.markers.push_back({name.text, name.span});
        } while (cursor_.take_symbol(","));
        line_must_end(cursor_, "the markers");
    }

    void weights_line() {
        const Span span = cursor_.take().span;
        if (!tree_.weights.empty()) {
            cursor_.problems().error(span, "weights is given twice", "keep one of the two lines");
            tree_.weights.clear();
        }
        do {
            tree_.weights.push_back(parse_signed_number(cursor_));
        } while (cursor_.take_symbol(","));
        tree_.weights_span = {span.from, cursor_.last_end()};
        line_must_end(cursor_, "the weights");
    }

    void named_value(const char* word, const char* what, std::vector<Let>& list) {
        cursor_.take();
        const Token name = take_name(cursor_, what);
        if (!cursor_.take_symbol("=")) {
            cursor_.fail(fmt::format("expected = after `{} {}`, found {}", word, name.text, describe(cursor_.peek())),
                         fmt::format("write {} {} = a value", word, name.text));
        }
        Expr value = parse_expression(cursor_);
        list.push_back({name.text, name.span, std::move(value)});
        line_must_end(cursor_, fmt::format("a {}", word).c_str());
    }

    void block(bool is_errand) {
        const std::string word = cursor_.take().text;
        const Token name = take_name(cursor_, is_errand ? "an errand" : "a habit");
        Block made;
        made.is_errand = is_errand;
        made.name = name.text;
        made.name_span = name.span;
        parameters(made);
        cursor_.skip_line_ends();
        if (!cursor_.take_symbol("{")) {
            cursor_.fail(fmt::format("expected {{ after `{} {}`, found {}", word, name.text, describe(cursor_.peek())),
                         fmt::format("write {} {} {{", word, name.text));
        }
        if (is_errand) {
            made.items = parse_items(cursor_, made.guards);
        } else {
            rules(made);
        }
        const bool closed = cursor_.take_symbol("}");
        if (!closed) {
            cursor_.problems().error(name.span, fmt::format("{} `{}` is not closed", word, name.text), "end it with }");
        }
        tree_.blocks.push_back(std::move(made));
        if (closed) {
            line_must_end(cursor_, "}");
        }
    }

    void parameters(Block& made) {
        constexpr std::size_t most = 8;
        if (!cursor_.take_symbol("(")) {
            return;
        }
        while (!cursor_.is_symbol(")")) {
            const Token name = argument_name();
            if (made.params.size() == most) {
                cursor_.problems().error(name.span, fmt::format("a block takes at most {} arguments", most),
                                         "keep the others in a let or var");
            }
            made.params.push_back({name.text, name.span, {Base::broken, {}}, false});
            if (!cursor_.take_symbol(",") && !cursor_.is_symbol(")")) {
                cursor_.fail(fmt::format("expected , or ) here, found {}", describe(cursor_.peek())),
                             "write the names of the arguments in brackets: (way, power)");
            }
        }
        cursor_.take();
    }

    /// One that cannot be a name is told and taken, so that the block is known all the same.
    Token argument_name() {
        if (!cursor_.is(TokenKind::word) || !is_reserved(cursor_.peek().text)) {
            return take_name(cursor_, "an argument");
        }
        tell_reserved(cursor_, "an argument");
        return cursor_.take();
    }

    void rules(Block& made) {
        while (!at_end() && !cursor_.is_symbol("}") && !begins_block()) {
            guarded(cursor_, [&] {
                if (cursor_.take_word("guard")) {
                    made.guards.push_back(parse_rule(cursor_, true));
                } else {
                    made.rules.push_back(parse_rule(cursor_, false));
                }
            });
        }
    }

    /// A word that opens a block at the start of a line: the } before it is missing.
    bool begins_block() const {
        return cursor_.is_word("habit") || cursor_.is_word("let") || cursor_.is_word("errand") ||
               cursor_.is_word("var");
    }

    Cursor cursor_;
    PlanTree tree_;
};

} // namespace

PlanTree parse(const Source& source, Problems& problems) { return Parser(source, problems).run(); }

} // namespace vast_turn::lang
