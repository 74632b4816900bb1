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

/// As it is where nothing in it means something in a table, else quoted.
inline std::string csv_cell(const std::string& text) {
    const bool blank_ends = !text.empty() && (text.front() == ' ' || text.back() == ' ');
    return blank_ends || text.find_first_of("\",;#\t\r\n") != std::string::npos ? csv_quoted(text) : text;
}

} // namespace vast_turn
