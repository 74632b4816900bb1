#include "vast_turn/base/colour.hpp"

#include <charconv>

namespace vast_turn {

std::optional<Rgb> parse_colour(std::string_view text) {
    if (text.size() != 7 || text.front() != '#') {
        return std::nullopt;
    }
    std::uint32_t value = 0;
    const char* first = text.data() + 1;
    const char* last = text.data() + text.size();
    const auto [end, error] = std::from_chars(first, last, value, 16);
    if (error != std::errc{} || end != last) {
        return std::nullopt;
    }
    return Rgb{static_cast<std::uint8_t>(value >> 16U), static_cast<std::uint8_t>((value >> 8U) & 0xFFU),
               static_cast<std::uint8_t>(value & 0xFFU)};
}

LightWeights weights_of(Light light) {
    switch (light) {
    case Light::red: return {1.0, 0.0, 0.0};
    case Light::green: return {0.0, 1.0, 0.0};
    case Light::blue: return {0.0, 0.0, 1.0};
    case Light::white: return {0.2126, 0.7152, 0.0722};
    case Light::infrared: return {0.76, 0.17, 0.07};
    }
    return {};
}

double reflectance(Rgb colour, Light light) {
    const LightWeights w = weights_of(light);
    return (w.r * colour.r + w.g * colour.g + w.b * colour.b) / 255.0;
}

std::optional<Light> parse_light(std::string_view name) {
    if (name == "red") {
        return Light::red;
    }
    if (name == "green") {
        return Light::green;
    }
    if (name == "blue") {
        return Light::blue;
    }
    if (name == "white") {
        return Light::white;
    }
    if (name == "infrared") {
        return Light::infrared;
    }
    return std::nullopt;
}

} // namespace vast_turn
