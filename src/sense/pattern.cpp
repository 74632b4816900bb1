#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

std::string to_marks(Pattern pattern) {
    std::string marks;
    for (int i = 0; i < pattern.count; ++i) {
        marks += ((pattern.bits >> i) & 1) != 0 ? '#' : '.';
    }
    return marks;
}

std::optional<Pattern> parse_marks(std::string_view text) {
    Pattern pattern;
    for (const char c : text) {
        if (c == ' ') {
            continue;
        }
        if ((c != '#' && c != '.') || pattern.count == max_sensors) {
            return std::nullopt;
        }
        if (c == '#') {
            pattern.bits = static_cast<std::uint8_t>(pattern.bits | (1U << pattern.count));
        }
        ++pattern.count;
    }
    return pattern.count > 0 ? std::optional{pattern} : std::nullopt;
}

} // namespace vast_turn
