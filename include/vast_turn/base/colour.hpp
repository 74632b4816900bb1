#pragma once

/// Colours of floors, tapes and markers.

#include <cstdint>
#include <optional>
#include <string_view>

namespace vast_turn {

/// A surface colour. Each channel divided by 255 is the part of light of that colour which the
/// surface sends back (its reflectance), so a mixture at an edge is a mixture of reflectances.
struct Rgb {
    /// 0 to 255 each.
    std::uint8_t r = 0;
    std::uint8_t g = 0;
    std::uint8_t b = 0;

    friend constexpr bool operator==(const Rgb&, const Rgb&) = default;
};

/// The square of how far two colours are apart, channel by channel: 0 to 195,075.
constexpr double squared_apart(Rgb a, Rgb b) {
    const double r = a.r - b.r;
    const double g = a.g - b.g;
    const double blue = a.b - b.b;
    return r * r + g * g + blue * blue;
}

/// Reads "#RRGGBB" (either case). Nothing else is a colour.
std::optional<Rgb> parse_colour(std::string_view text);

/// What a line sensor shines with; decides how it weighs the channels of a colour.
enum class Light { red, green, blue, white, infrared };

/// How much each channel counts under a light; the three weights sum to 1.
struct LightWeights {
    double r = 0.0;
    double g = 0.0;
    double b = 0.0;
};

/// The weights of a light. `white` uses the luminance weights of ITU-R BT.709. A drawing has no
/// infrared channel: `infrared` leans on red, since pigments that send back red mostly send back
/// the near infrared too. That is an estimate; a calibration on the real robot replaces it.
LightWeights weights_of(Light light);

/// Reflectance 0..1 of a colour under a light.
double reflectance(Rgb colour, Light light);

/// The light of this name ("red", "green", "blue", "white", "infrared"), if there is one.
std::optional<Light> parse_light(std::string_view name);

} // namespace vast_turn
