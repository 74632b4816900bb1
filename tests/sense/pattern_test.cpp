#include "vast_turn/sense/pattern.hpp"

#include <doctest/doctest.h>

using namespace vast_turn;

TEST_CASE("marks and patterns are two spellings of one thing, for every pattern of one to eight sensors") {
    for (int count = 1; count <= max_sensors; ++count) {
        for (int bits = 0; bits < pattern_count(count); ++bits) {
            const Pattern pattern{static_cast<std::uint8_t>(bits), count};
            CHECK(parse_marks(to_marks(pattern)) == pattern);
            CHECK(mirrored(mirrored(pattern)) == pattern);
            CHECK(seen(mirrored(pattern)) == seen(pattern));
        }
    }
}

TEST_CASE("sensor 1 is the leftmost mark") {
    CHECK(to_marks({1, 3}) == "#..");
    CHECK(to_marks(mirrored(Pattern{3, 3})) == ".##");
    CHECK(parse_marks("# .") == Pattern{1, 2});
}

TEST_CASE("what is no pattern is refused") {
    for (const char* text : {"", "   ", "#x", "#?", "#########"}) {
        CAPTURE(text);
        CHECK_FALSE(parse_marks(text).has_value());
    }
}
