#pragma once

/// Pieces of TOML (https://toml.io/en/v1.0.0).

#include <string>

#include <fmt/format.h>

namespace vast_turn {

/// A text in quotation marks; control characters as escapes.
inline std::string toml_quoted(const std::string& text) {
    std::string out = "\"";
    for (const char c : text) {
        if (static_cast<unsigned char>(c) < 0x20 || c == 0x7F) {
            out += fmt::format("\\u{:04X}", static_cast<unsigned>(static_cast<unsigned char>(c)));
            continue;
        }
        if (c == '"' || c == '\\') {
            out += '\\';
        }
        out += c;
    }
    return out + "\"";
}

} // namespace vast_turn
