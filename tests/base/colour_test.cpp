#include "vast_turn/base/colour.hpp"

#include <doctest/doctest.h>

using namespace vast_turn;

TEST_CASE("a colour is # and six hexadecimal digits, nothing else") {
    CHECK(parse_colour("#E69A17") == Rgb{230, 154, 23});
    CHECK(parse_colour("#e69a17") == Rgb{230, 154, 23});
    for (const char* text : {"", "#", "E69A17", "#E69A1", "#E69A177", "#E69A1G", "#+69A17", "amber"}) {
        CAPTURE(text);
        CHECK_FALSE(parse_colour(text).has_value());
    }
}

TEST_CASE("a light weighs the channels, and its weights sum to one") {
    for (const Light light : {Light::red, Light::green, Light::blue, Light::white, Light::infrared}) {
        const LightWeights w = weights_of(light);
        CHECK(w.r + w.g + w.b == doctest::Approx(1.0));
        CHECK(reflectance({255, 255, 255}, light) == doctest::Approx(1.0));
        CHECK(reflectance({0, 0, 0}, light) == doctest::Approx(0.0));
    }
    CHECK(reflectance({51, 255, 255}, Light::red) == doctest::Approx(0.2));
    CHECK(reflectance({255, 51, 255}, Light::green) == doctest::Approx(0.2));
    CHECK(parse_light("infrared") == Light::infrared);
    CHECK_FALSE(parse_light("ultraviolet").has_value());
}
