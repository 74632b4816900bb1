/// What a hand does, as words.
#include "vast_turn/bench/hand_script.hpp"

#include <doctest/doctest.h>

#include "vast_turn/base/problem.hpp"

using namespace vast_turn;

TEST_CASE("hand script: each word, its time, and what is done when") {
    const std::vector<HandMove> script = parse_hand_script(
        "floor 2s // as it lies\n\n  line 800ms\nplate teal 1s\nsweep 4s\nsweep-back 1.5s\ncard 3 1s\n"
        "card off 1s\nunplug 500ms\n",
        "a.hand");
    REQUIRE(script.size() == 8);
    CHECK(words_of(hand_at(script, 0.0)) == "over the floor");
    CHECK(words_of(hand_at(script, 1999.0)) == "over the floor");
    CHECK(words_of(hand_at(script, 2000.0)) == "over the line");
    CHECK(words_of(hand_at(script, 2900.0)) == "over teal");
    CHECK(hand_at(script, 4800.0).held.share == doctest::Approx(0.25));
    CHECK(hand_at(script, 8000.0).held.backwards);
    CHECK(hand_at(script, 9400.0).held.cards == 4U);
    CHECK(words_of(hand_at(script, 9400.0)) == "a card under sensor 3");
    CHECK(words_of(hand_at(script, 10400.0)) == "no card");
    CHECK(hand_at(script, 1e9).unplugged);
}

TEST_CASE("hand script: faults stand at their places") {
    const auto fault = [](const char* text) -> std::string {
        try {
            parse_hand_script(text, "a.hand");
        } catch (const InputError& error) {
            return error.what();
        }
        return "none";
    };
    CHECK(fault("floor 2s\nlyne 1s\n").find("a.hand:2:1: error: a hand does not `lyne`") == 0);
    CHECK(fault("lyne 1s").find("did you mean line?") != std::string::npos);
    CHECK(fault("floor").find("expected how long") != std::string::npos);
    CHECK(fault("floor 2mm").find("`2mm` is no time") != std::string::npos);
    CHECK(fault("floor -2s").find("is no time") != std::string::npos);
    CHECK(fault("floor 1e9s").find("is no time") != std::string::npos);
    CHECK(fault("card 9 1s").find("`9` is no sensor") != std::string::npos);
    CHECK(fault("card 1.5 1s").find("is no sensor") != std::string::npos);
    CHECK(fault("plate").find("expected the plate's colour") != std::string::npos);
    CHECK(fault("floor 2s more").find("1:10") != std::string::npos);
    CHECK(fault("// nothing\n").find("the hand does nothing") != std::string::npos);
    CHECK(parse_hand_move("card 2", "keys", 1).lasts_ms == 0.0);
}
