/// Texts from outside made fit to be shown, and problems that stay within a screen.
#include <algorithm>
#include <string>

#include <doctest/doctest.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/base/utf8.hpp"
#include "vast_turn/base/visible.hpp"

using namespace vast_turn;

TEST_CASE("what a terminal obeys is shown as a mark, all else stays") {
    CHECK(visible("plain \u00E4\u2192\U0001F33F\t\n") == "plain \u00E4\u2192\U0001F33F\t\n");
    CHECK(visible(std::string("\x1b[31m\0\x7f\r", 8)) == "\u241B[31m\u2400\u2421\u240D");
    CHECK(visible("a\u202Eb\u0085c\uFEFF") == "a<U+202E>b<U+0085>c<U+FEFF>");
    CHECK(visible("\xff\xc3(\xed\xa0\x80") == "<FF><C3>(<ED><A0><80>"); // a surrogate is no character
    CHECK(visible("\xc0\xaf") == "<C0><AF>");                           // nor an overlong form
}

TEST_CASE("where a text stops being UTF-8") {
    CHECK(first_not_utf8("") == 0);
    CHECK(first_not_utf8("a\u00E4\U0010FFFF") == 7);
    CHECK(first_not_utf8("ab\xf4\x90\x80\x80") == 2); // beyond U+10FFFF
    CHECK(first_not_utf8("ab\xe2\x82") == 2);         // cut off
    CHECK(unfinished_bytes("ab\xe2\x82") == 2);
    CHECK(unfinished_bytes("ab\u20AC") == 0);
}

TEST_CASE("a place in a long line shows what is around it, with the column of the whole line") {
    const std::string line = std::string(500, 'a') + "\u00E4wrong" + std::string(500, 'b');
    const Place place = place_in_line("f", 7, line, 502, 5);
    CHECK(place.column == 502);
    CHECK(place.length == 5);
    const std::string text = to_text(Problem{Severity::error, place, "m", ""});
    const std::size_t shown = text.find("wrong");
    REQUIRE(shown != std::string::npos);
    CHECK(text.size() < 400);
    // The carets stand below the word.
    const std::size_t line_begin = text.rfind('\n', shown) + 1;
    const std::size_t carets = text.find('^');
    const std::size_t caret_begin = text.rfind('\n', carets) + 1;
    CHECK(characters_in(text.substr(line_begin, shown - line_begin)) == carets - caret_begin);
    CHECK(text.find("^^^^^\n") != std::string::npos);
}

TEST_CASE("however many problems there are and however long, an error is at most a screen") {
    ProblemList list;
    int made = 0;
    for (int i = 0; i < 5000; ++i) {
        list.add_error(
            [&] {
                ++made;
                return place_in_line("f", 5000 - i, std::string(9000, 'x'), 4000, 10);
            },
            std::string(3000, 'm'), std::string(3000, 'c'));
    }
    CHECK(made == 20);
    CHECK(list.full());
    const std::vector<Problem> problems = list.take("f");
    REQUIRE(problems.size() == 21);
    CHECK(problems[0].place.line < problems[1].place.line);
    CHECK(problems.back().message == "4980 more faults not shown");
    const std::string text = to_text(problems);
    CHECK(std::count(text.begin(), text.end(), '\n') <= 45);
    CHECK(text.size() < 20000);
}
