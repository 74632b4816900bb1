#include "vast_turn/base/visible.hpp"

#include <cstdint>

#include <fmt/format.h>

#include "vast_turn/base/utf8.hpp"

namespace vast_turn {

namespace {

bool is_unseen(std::uint32_t c) {
    return (c >= 0x80 && c < 0xA0) || c == 0x061C || c == 0x180E || (c >= 0x200B && c <= 0x200F) ||
           (c >= 0x2028 && c <= 0x202E) || (c >= 0x2060 && c <= 0x206F) || c == 0xFEFF || (c & 0xFFFEU) == 0xFFFE ||
           (c >= 0xE0000 && c <= 0xE0FFF);
}

} // namespace

std::string visible(std::string_view text) {
    constexpr unsigned char del = 0x7F;
    constexpr unsigned char first_picture = 0x80; // U+2400 is e2 90 80
    std::string shown;
    shown.reserve(text.size());
    while (!text.empty()) {
        const auto byte = static_cast<unsigned char>(text.front());
        if (byte == '\n' || byte == '\t' || (byte >= 0x20 && byte < del)) {
            shown += text.front();
            text.remove_prefix(1);
            continue;
        }
        if (byte < 0x20 || byte == del) {
            shown += "\xE2\x90";
            shown += static_cast<char>(byte == del ? 0xA1 : first_picture + byte);
            text.remove_prefix(1);
            continue;
        }
        const Character character = first_character(text);
        if (character.bytes == 0) {
            shown += fmt::format("<{:02X}>", byte);
            text.remove_prefix(1);
            continue;
        }
        shown += is_unseen(character.code) ? fmt::format("<U+{:04X}>", character.code)
                                           : std::string(text.substr(0, character.bytes));
        text.remove_prefix(character.bytes);
    }
    return shown;
}

std::size_t unfinished_bytes(std::string_view text) {
    for (std::size_t back = 1; back <= 3 && back <= text.size(); ++back) {
        const char byte = text[text.size() - back];
        if (!continues_character(byte)) {
            return back < bytes_begun_by(byte) ? back : 0;
        }
    }
    return 0;
}

} // namespace vast_turn
