#pragma once

/// Characters of UTF-8 texts. A character is a code point here: what is put together of several counts as several.

#include <cstddef>
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

} // namespace vast_turn
