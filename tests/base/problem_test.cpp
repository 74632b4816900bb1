#include "vast_turn/base/problem.hpp"

#include <doctest/doctest.h>

using namespace vast_turn;

TEST_CASE("a problem shows place, message, line, caret and cure") {
    const Problem problem{
        Severity::error, {"a.plan", 4, 6, 3, "    let x = oops"}, "nothing here is called `oops`", "write a number"};
    CHECK(to_text(problem) == "a.plan:4:6: error: nothing here is called `oops`\n"
                              "      let x = oops\n"
                              "       ^^^\n"
                              "  to do: write a number\n");
}

TEST_CASE("the caret counts characters, not bytes, and keeps tabs") {
    const Problem problem{Severity::warning, {"f", 1, 4, 1, "\tü x"}, "m", ""};
    CHECK(to_text(problem) == "f:1:4: warning: m\n  \tü x\n  \t  ^\n");
}

TEST_CASE("a problem of a whole file has no line") {
    CHECK(to_text(InputError("f.toml", "is empty", "fill it").problems()) ==
          "f.toml: error: is empty\n  to do: fill it\n");
}

TEST_CASE("the nearest name forgives swapped, missing and wrong letters, but does not guess wildly") {
    const std::vector<std::string> names = {"wheels", "ahead", "bend", "pivot", "rotate", "still", "keep"};
    CHECK(nearest("whelss", names) == "wheels");
    CHECK(nearest("ahaed", names) == "ahead");
    CHECK(nearest("rotat", names) == "rotate");
    CHECK(nearest("juggle", names).empty());
    CHECK(nearest(std::string(5000, 'x'), names).empty());
    CHECK(did_you_mean("bned", names) == " (did you mean `bend`?)");
    CHECK(did_you_mean("zzz", names).empty());
}

TEST_CASE("a list of names reads as a sentence") {
    CHECK(one_of({"a"}) == "a");
    CHECK(one_of({"a", "b", "c"}) == "a, b or c");
}
