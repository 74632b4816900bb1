#pragma once

/// Characters of UTF-8 texts. A character is a code point here: what is put together of several counts as several.

#include <cstddef>
#include <cstdint>
#include <string_view>

namespace vast_turn {

/// Whether a byte goes on with the character that an earlier byte began.
constexpr bool continues_character(char byte) { return (static_cast<unsigned char>(byte) & 0xC0U) == 0x80U; }

/// How many characters a text has: bytes that begin one. Of a text that is no UTF-8 it is as many as there are bytes
/// that could begin one, so never more than its bytes.
constexpr std::size_t characters_in(std::string_view text) {
    std::size_t count = 0;
    for (const char byte : text) {
        count += continues_character(byte) ? 0 : 1;
    }
    return count;
}

/// The longest beginning of a text that has at most so many bytes and ends between two characters. A view into
/// `text`: it lives as long as that.
constexpr std::string_view at_most_bytes(std::string_view text, std::size_t bytes) {
    if (text.size() <= bytes) {
        return text;
    }
    while (bytes > 0 && continues_character(text[bytes])) {
        --bytes;
    }
    return text.substr(0, bytes);
}

/// Of how many bytes the character is that this byte begins: 1 to 4; 0 when it begins none.
constexpr std::size_t bytes_begun_by(char byte) {
    const auto b = static_cast<unsigned char>(byte);
    return b < 0x80 ? 1 : b < 0xC2 ? 0 : b < 0xE0 ? 2 : b < 0xF0 ? 3 : b < 0xF5 ? 4 : 0;
}

/// One character of a text.
struct Character {
    std::size_t bytes = 0;  ///< 0: there is none, or the text does not begin with UTF-8 (RFC 3629)
    std::uint32_t code = 0; ///< its code point
};

/// The first character of a text. Overlong forms, surrogates and what lies beyond U+10FFFF are none.
constexpr Character first_character(std::string_view text) {
    const std::size_t bytes = text.empty() ? 0 : bytes_begun_by(text.front());
    if (bytes == 0 || bytes > text.size()) {
        return {};
    }
    constexpr std::uint32_t least[5] = {0, 0, 0x80, 0x800, 0x10000};
    const auto first = static_cast<unsigned char>(text.front());
    std::uint32_t code = bytes == 1 ? first : first & (0x7FU >> bytes);
    for (std::size_t i = 1; i < bytes; ++i) {
        if (!continues_character(text[i])) {
            return {};
        }
        code = code << 6U | (static_cast<unsigned char>(text[i]) & 0x3FU);
    }
    const bool surrogate = code >= 0xD800 && code < 0xE000;
    return code < least[bytes] || surrogate || code > 0x10FFFF ? Character{} : Character{bytes, code};
}

/// Where a text stops being UTF-8, as a byte from 0; its size when all of it is.
constexpr std::size_t first_not_utf8(std::string_view text) {
    std::size_t at = 0;
    while (at < text.size()) {
        const std::size_t bytes = first_character(text.substr(at)).bytes;
        if (bytes == 0) {
            return at;
        }
        at += bytes;
    }
    return at;
}

} // namespace vast_turn
