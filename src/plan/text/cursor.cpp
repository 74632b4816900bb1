#include "plan/text/cursor.hpp"

#include <fmt/format.h>

#include "plan/text/words.hpp"

namespace vast_turn::lang {

namespace {

constexpr std::size_t most_name_letters = 48;

} // namespace

void tell_reserved(Cursor& cursor, const char* what) {
    const bool unit = find_unit(cursor.peek().text).has_value();
    cursor.problems().error(cursor.peek().span,
                            fmt::format("`{}` is {} and cannot name {}", cursor.peek().text,
                                        unit ? "a unit" : "a word of the language", what),
                            "choose another name");
}

Token take_name(Cursor& cursor, const char* what) {
    if (!cursor.is(TokenKind::word)) {
        cursor.fail(fmt::format("expected the name of {} here, found {}", what, describe(cursor.peek())),
                    "names are letters, digits and _, and begin with a letter");
    }
    if (is_reserved(cursor.peek().text)) {
        tell_reserved(cursor, what);
        throw Unreadable{};
    }
    if (cursor.peek().text.size() > most_name_letters) {
        cursor.fail("this name is too long", fmt::format("names have up to {} letters", most_name_letters));
    }
    return cursor.take();
}

void no_source_behind_comparison(Cursor& cursor) {
    if (cursor.is_word("by")) {
        cursor.fail("where a turn is taken from stands directly behind `turned`", "write turned by wheels > 90deg");
    }
}

void line_must_end(Cursor& cursor, const char* after) {
    if (!cursor.is(TokenKind::line_end) && !cursor.is(TokenKind::text_end) && !cursor.is_symbol("}")) {
        cursor.fail(fmt::format("expected the end of the line after {}, found {}", after, describe(cursor.peek())),
                    "start a new line");
    }
}

} // namespace vast_turn::lang
