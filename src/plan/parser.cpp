#include "plan/parser.hpp"

#include <fmt/format.h>

#include "plan/cursor.hpp"
#include "plan/words.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vast_turn::lang {

namespace {

constexpr std::size_t most_name_letters = 48;

class Parser {
public:
    Parser(const Source& source, Problems& problems) : cursor_(tokenize(source, problems), problems) {}

    PlanTree run() {
        guarded([this] { plan_line(); });
        while (!at_end()) {
            guarded([this] { top(); });
        }
        return std::move(tree_);
    }

private:
    bool at_end() {
        cursor_.skip_line_ends();
        return cursor_.is(TokenKind::text_end);
    }

    /// Runs one part; after a fault goes on behind the line in which it was found, and behind the
    /// block when that line opens one.
    template <class Part> void guarded(Part part) {
        try {
            part();
        } catch (const Unreadable&) {
            int open = 0;
            while (!cursor_.is(TokenKind::text_end) &&
                   (open > 0 || (!cursor_.is(TokenKind::line_end) && !cursor_.is_symbol("}")))) {
                open += cursor_.is_symbol("{") ? 1 : (cursor_.is_symbol("}") ? -1 : 0);
                cursor_.take();
            }
        }
    }

    void line_must_end(const char* after) {
        if (!cursor_.is(TokenKind::line_end) && !cursor_.is(TokenKind::text_end) && !cursor_.is_symbol("}")) {
            cursor_.fail(
                fmt::format("expected the end of the line after {}, found {}", after, describe(cursor_.peek())),
                "start a new line");
        }
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
        line_must_end("the name of the plan");
    }

    void top() {
        if (cursor_.is_word("sensors")) {
            sensors_line();
        } else if (cursor_.is_word("markers")) {
            markers_line();
        } else if (cursor_.is_word("weights")) {
            weights_line();
        } else if (cursor_.is_word("let")) {
            let_line();
        } else if (cursor_.is_word("habit")) {
            habit();
        } else {
            stray();
        }
    }

    [[noreturn]] void stray() {
        const Token& token = cursor_.peek();
        if (token.kind == TokenKind::word && is_for_later(token.text)) {
            cursor_.fail(
                fmt::format("`{}` belongs to a part of the language that this version does not read", token.text),
                "for now plans are made of let and habit");
        }
        if (token.kind == TokenKind::symbol && token.text == "}") {
            cursor_.problems().error(token.span, "this } closes nothing",
                                     "remove it, or open the block with habit NAME {");
            cursor_.take();
            throw Unreadable{};
        }
        const std::vector<std::string> words = {"sensors", "markers", "weights", "let", "habit"};
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
        line_must_end("the number of sensors");
    }

    void markers_line() {
        const Span span = cursor_.take().span;
        if (!tree_.markers.empty()) {
            cursor_.problems().error(span, "markers is given twice", "put all names into one line");
        }
        do {
            const Token name = name_of("a marker");
            tree_.markers.push_back({name.text, name.span});
        } while (cursor_.take_symbol(","));
        line_must_end("the markers");
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
        line_must_end("the weights");
    }

    Token name_of(const char* what) {
        if (!cursor_.is(TokenKind::word)) {
            cursor_.fail(fmt::format("expected the name of {} here, found {}", what, describe(cursor_.peek())),
                         "names are letters, digits and _, and begin with a letter");
        }
        if (is_reserved(cursor_.peek().text)) {
            cursor_.fail(fmt::format("`{}` is a word of the language and cannot name {}", cursor_.peek().text, what),
                         "choose another name");
        }
        if (cursor_.peek().text.size() > most_name_letters) {
            cursor_.fail("this name is too long", fmt::format("names have up to {} letters", most_name_letters));
        }
        return cursor_.take();
    }

    void let_line() {
        cursor_.take();
        const Token name = name_of("a constant");
        if (!cursor_.take_symbol("=")) {
            cursor_.fail(fmt::format("expected = after `let {}`, found {}", name.text, describe(cursor_.peek())),
                         fmt::format("write let {} = a value", name.text));
        }
        Expr value = parse_expression(cursor_);
        tree_.lets.push_back({name.text, name.span, std::move(value)});
        line_must_end("a let");
    }

    void habit() {
        cursor_.take();
        const Token name = name_of("a habit");
        Habit made;
        made.name = name.text;
        made.name_span = name.span;
        if (cursor_.is_symbol("(")) {
            cursor_.fail("arguments of a block belong to a part of the language that this version does not read",
                         "for now write one habit for each case");
        }
        cursor_.skip_line_ends();
        if (!cursor_.take_symbol("{")) {
            cursor_.fail(fmt::format("expected {{ after `habit {}`, found {}", name.text, describe(cursor_.peek())),
                         fmt::format("write habit {} {{", name.text));
        }
        while (!at_end() && !cursor_.is_symbol("}") && !begins_block()) {
            guarded([&] { made.rules.push_back(rule()); });
        }
        const bool closed = cursor_.take_symbol("}");
        if (!closed) {
            cursor_.problems().error(name.span, fmt::format("habit `{}` is not closed", name.text), "end it with }");
        }
        tree_.habits.push_back(std::move(made));
        if (closed) {
            line_must_end("}");
        }
    }

    /// A word that opens a block at the start of a line: the } before it is missing.
    bool begins_block() const {
        return cursor_.is_word("habit") || cursor_.is_word("let") || cursor_.is_word("errand");
    }

    Rule rule() {
        Rule made;
        made.span.from = cursor_.peek().span.from;
        if (cursor_.take_word("as")) {
            made.is_as = true;
            made.as_habit = name_of("the habit whose rules stand here").text;
        } else {
            if (cursor_.take_word("else")) {
                made.is_else = true;
            } else {
                made.condition = parse_expression(cursor_);
            }
            made.is_mirrored = cursor_.take_word("mirrored");
            if (!cursor_.take_symbol("->")) {
                cursor_.fail(fmt::format("expected -> after the condition, found {}", describe(cursor_.peek())),
                             "write CONDITION -> what to do");
            }
            acts(made);
        }
        made.span.to = cursor_.last_end();
        line_must_end("a rule");
        return made;
    }

    void acts(Rule& made) {
        do {
            made.acts.push_back(act());
        } while (cursor_.take_symbol(","));
    }

    Act act() {
        const Token word = cursor_.peek();
        if (word.kind != TokenKind::word) {
            cursor_.fail(fmt::format("expected what to do here, found {}", describe(word)),
                         fmt::format("write {}", one_of(act_words())));
        }
        Act made;
        made.span = word.span;
        made.name = word.text;
        if (word.text == "note") {
            note(made);
        } else if (word.text == "become") {
            cursor_.take();
            made.kind = ActKind::become;
            made.name = name_of("the block to become").text;
        } else if (word.text == "halt") {
            cursor_.take();
            made.kind = ActKind::halt;
        } else if (find_motion(word.text) != nullptr) {
            motion(made);
        } else {
            unknown_act(word);
        }
        made.span.to = cursor_.last_end();
        return made;
    }

    void motion(Act& made) {
        Expr call = parse_expression(cursor_);
        if ((call.kind != ExprKind::name && call.kind != ExprKind::call) || call.text != made.name) {
            cursor_.problems().error(
                call.span, fmt::format("a motion stands alone, not in a sum or a condition: {}", to_text(call)),
                fmt::format("write {}", find_motion(made.name)->usage));
            throw Unreadable{};
        }
        made.args = std::move(call.args);
    }

    void note(Act& made) {
        cursor_.take();
        made.kind = ActKind::note;
        const bool open = cursor_.take_symbol("(");
        if (!open || !cursor_.is(TokenKind::string) || cursor_.peek().cut_off) {
            cursor_.fail(fmt::format("expected a text in brackets after note, found {}", describe(cursor_.peek())),
                         "write note(\"what to remember\")");
        }
        made.name = cursor_.take().text;
        if (!cursor_.take_symbol(")")) {
            cursor_.fail(fmt::format("expected ) here, found {}", describe(cursor_.peek())), "close the bracket");
        }
    }

    static std::vector<std::string> act_words() {
        std::vector<std::string> words = motion_words();
        for (const char* word : {"note", "become", "halt"}) {
            words.emplace_back(word);
        }
        return words;
    }

    [[noreturn]] void unknown_act(const Token& word) {
        if (is_for_later(word.text)) {
            cursor_.fail(
                fmt::format("`{}` belongs to a part of the language that this version does not read", word.text),
                fmt::format("for now write {}", one_of(act_words())));
        }
        cursor_.fail(
            fmt::format("`{}` is nothing that a rule can do{}", word.text, did_you_mean(word.text, act_words())),
            fmt::format("write {}", one_of(act_words())));
    }

    Cursor cursor_;
    PlanTree tree_;
};

} // namespace

PlanTree parse(const Source& source, Problems& problems) { return Parser(source, problems).run(); }

} // namespace vast_turn::lang
