#pragma once

#include <string>

namespace vast_turn {

/// A field in quotation marks, those within it doubled (RFC 4180).
inline std::string csv_quoted(const std::string& text) {
    std::string out = "\"";
    for (const char c : text) {
        out += c;
        if (c == '"') {
            out += '"';
        }
    }
    return out + "\"";
}

} // namespace vast_turn
