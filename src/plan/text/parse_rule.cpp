/// Rules, guards and what they do.

#include <array>

#include <fmt/format.h>

#include "plan/text/grammar.hpp"
#include "plan/text/syntax.hpp"
#include "plan/text/words.hpp"

namespace vast_turn::lang {

namespace {

struct ActWord {
    const char* word;
    ActKind kind;
};

constexpr std::array<ActWord, 10> act_table = {{{"note", ActKind::note},
                                                {"light", ActKind::light},
                                                {"sound", ActKind::sound},
                                                {"tell", ActKind::tell},
                                                {"set", ActKind::set},
                                                {"track", ActKind::track},
                                                {"do", ActKind::call},
                                                {"become", ActKind::become},
                                                {"done", ActKind::done},
                                                {"halt", ActKind::halt}}};

std::vector<std::string> act_words() {
    std::vector<std::string> words = motion_words();
    for (const ActWord& row : act_table) {
        words.emplace_back(row.word);
    }
    words.emplace_back("hold");
    return words;
}

void open_bracket(Cursor& cursor, const char* after, const char* usage) {
    if (!cursor.take_symbol("(")) {
        cursor.fail(fmt::format("expected ( after `{}`, found {}", after, describe(cursor.peek())),
                    fmt::format("write {}", usage));
    }
}

void close_bracket(Cursor& cursor) {
    if (!cursor.take_symbol(")")) {
        cursor.fail(fmt::format("expected ) here, found {}", describe(cursor.peek())), "close the bracket");
    }
}

void note(Cursor& cursor, Act& made) {
    const bool open = cursor.take_symbol("(");
    if (!open || !cursor.is(TokenKind::string) || cursor.peek().cut_off) {
        cursor.fail(fmt::format("expected a text in brackets after note, found {}", describe(cursor.peek())),
                    "write note(\"what to remember\")");
    }
    made.name = cursor.take().text;
    close_bracket(cursor);
}

/// light(green), sound(chirp): a name of the team's own.
void device(Cursor& cursor, Act& made, const std::string& word) {
    const std::string usage = word == "tell" ? "tell(arm, 40)" : word + "(green)";
    open_bracket(cursor, word.c_str(), usage.c_str());
    if (!cursor.is(TokenKind::word)) {
        cursor.fail(fmt::format("expected a name in the brackets of `{}`, found {}", word, describe(cursor.peek())),
                    fmt::format("write {}", usage));
    }
    made.name = cursor.take().text;
    if (word == "tell") {
        if (!cursor.take_symbol(",")) {
            cursor.fail(fmt::format("expected , and a value here, found {}", describe(cursor.peek())),
                        fmt::format("write {}", usage));
        }
        made.args.push_back(parse_expression(cursor));
    }
    close_bracket(cursor);
}

void assignment(Cursor& cursor, Act& made, const std::string& word) {
    const Token name = take_name(cursor, "the var");
    made.name = name.text;
    made.name_span = name.span;
    if (!cursor.take_symbol("=")) {
        cursor.fail(fmt::format("expected = after `{} {}`, found {}", word, name.text, describe(cursor.peek())),
                    fmt::format("write {} {} = a value", word, name.text));
    }
    made.args.push_back(parse_expression(cursor));
}

/// NAME or NAME(arguments) of a block.
void block_call(Cursor& cursor, Act& made, const char* what) {
    const Token name = take_name(cursor, what);
    made.name = name.text;
    made.name_span = name.span;
    if (!cursor.take_symbol("(")) {
        return;
    }
    while (!cursor.is_symbol(")")) {
        made.args.push_back(parse_expression(cursor));
        if (!cursor.take_symbol(",") && !cursor.is_symbol(")")) {
            cursor.fail(fmt::format("expected , or ) here, found {}", describe(cursor.peek())),
                        "part arguments by commas and close the bracket");
        }
    }
    cursor.take();
}

void motion(Cursor& cursor, Act& made) {
    // keep, still and the others are read as values are: NAME or NAME(arguments)
    Expr call = parse_quantity(cursor);
    const std::string* name = call.is<Name>()   ? &call.as<Name>()->text
                              : call.is<Call>() ? &call.as<Call>()->text
                                                : nullptr;
    if (name == nullptr || *name != made.name) {
        cursor.problems().error(call.span,
                                fmt::format("a motion stands alone, not in a sum or a condition: {}", to_text(call)),
                                fmt::format("write {}", find_motion(made.name)->usage));
        throw Unreadable{};
    }
    const MotionWord& word = *find_motion(made.name);
    if (call.is<Name>() && !word.args.empty() && !cursor.is(TokenKind::line_end)) {
        cursor.fail(fmt::format("`{}` takes its numbers in brackets, found {}", made.name, describe(cursor.peek())),
                    fmt::format("write {}", word.usage));
    }
    made.motion = word.op;
    made.args = std::move(call.args);
}

void read_act(Cursor& cursor, Act& made) {
    const std::string& word = made.name;
    for (const ActWord& row : act_table) {
        if (word != row.word) {
            continue;
        }
        cursor.take();
        made.kind = row.kind;
        switch (row.kind) {
        case ActKind::note: return note(cursor, made);
        case ActKind::light:
        case ActKind::sound:
        case ActKind::tell: return device(cursor, made, row.word);
        case ActKind::set:
        case ActKind::track: return assignment(cursor, made, row.word);
        case ActKind::call: return block_call(cursor, made, "the block to do");
        case ActKind::become: return block_call(cursor, made, "the block to become");
        default: return;
        }
    }
    if (word == "hold") {
        cursor.take();
        made.kind = ActKind::hold;
        return;
    }
    if (find_motion(word) != nullptr) {
        return motion(cursor, made);
    }
    const std::vector<std::string> known = act_words();
    cursor.fail(fmt::format("`{}` is nothing that a robot can do here{}", word, did_you_mean(word, known)),
                fmt::format("write {}; a block of the plan is entered by do {}", one_of(known), word));
}

} // namespace

Act parse_act(Cursor& cursor) {
    const Token word = cursor.peek();
    if (word.kind != TokenKind::word) {
        cursor.fail(fmt::format("expected what to do here, found {}", describe(word)),
                    fmt::format("write {}", one_of(act_words())));
    }
    Act made;
    made.span = word.span;
    made.name = word.text;
    read_act(cursor, made);
    made.span.to = cursor.last_end();
    return made;
}

Rule parse_rule(Cursor& cursor, bool is_guard) {
    Rule made;
    made.is_guard = is_guard;
    made.span.from = cursor.peek().span.from;
    if (!is_guard && cursor.take_word("as")) {
        made.is_as = true;
        Act call;
        block_call(cursor, call, "the habit whose rules stand here");
        made.as_habit = call.name;
        made.as_args = std::move(call.args);
    } else {
        if (is_guard && cursor.is_word("else")) {
            cursor.fail("a guard needs a condition, it would always act", "write guard CONDITION -> what to do");
        }
        if (cursor.take_word("else")) {
            made.is_else = true;
        } else {
            made.condition = parse_expression(cursor);
        }
        made.is_mirrored = cursor.take_word("mirrored");
        if (!cursor.take_symbol("->")) {
            no_source_behind_comparison(cursor);
            const Name* name = made.condition.as<Name>();
            if (made.is_mirrored || (name != nullptr && name->text == "mirrored")) {
                cursor.fail(fmt::format("expected -> behind `mirrored`, found {}", describe(cursor.peek())),
                            "write `mirrored` last: CONDITION mirrored -> what to do");
            }
            const Token& found = cursor.peek();
            cursor.fail(fmt::format("expected -> after the condition, found {}{}", describe(found),
                                    found.kind == TokenKind::word
                                        ? did_you_mean(found.text, {"mirrored", "lasting", "and", "or"})
                                        : std::string{}),
                        "write CONDITION -> what to do");
        }
        do {
            made.acts.push_back(parse_act(cursor));
        } while (cursor.take_symbol(","));
        if (cursor.is_word("till") || cursor.is_word("over")) {
            cursor.fail(fmt::format("a rule has no `{}`: it is asked anew at every look", cursor.peek().text),
                        "put this into an errand and write do NAME here");
        }
    }
    made.span.to = cursor.last_end();
    line_must_end(cursor, is_guard ? "a guard" : "a rule");
    return made;
}

} // namespace vast_turn::lang
