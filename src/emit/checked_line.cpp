#include "vast_turn/emit/checked_line.hpp"

#include <algorithm>
#include <charconv>

#include <fmt/format.h>

#include "vast_turn/emit/frames.hpp"

namespace vast_turn {

namespace {

std::uint16_t sum_of(std::string_view words) {
    std::uint16_t sum = frames::no_sum;
    for (const char c : words) {
        sum = frames::summed(sum, static_cast<std::uint8_t>(c));
    }
    return sum;
}

std::optional<std::uint16_t> parse_sum(std::string_view text) {
    std::uint16_t sum = 0;
    const auto [end, fault] = std::from_chars(text.data(), text.data() + text.size(), sum, 16);
    return text.size() == 4 && fault == std::errc{} && end == text.data() + 4 ? std::optional(sum) : std::nullopt;
}

/// The words before a last cell that begins with `mark` and ends in their check sum.
std::optional<std::string_view> words_before(std::string_view line, std::string_view mark) {
    const std::size_t comma = line.rfind(',');
    if (comma == std::string_view::npos || !line.substr(comma + 1).starts_with(mark)) {
        return std::nullopt;
    }
    const std::string_view words = line.substr(0, comma);
    const std::optional<std::uint16_t> told = parse_sum(line.substr(comma + 1 + mark.size()));
    return told && *told == sum_of(words) ? std::optional(words) : std::nullopt;
}

} // namespace

std::string checked_line(std::string_view words) { return fmt::format("{},{:04X}\n", words, sum_of(words)); }

std::string checked_header(std::string_view columns) {
    return fmt::format("{},check_{:04X}\n", columns, sum_of(columns));
}

std::optional<std::string_view> words_of_checked(std::string_view line) { return words_before(line, ""); }

std::optional<std::string_view> columns_of_checked(std::string_view line) { return words_before(line, "check_"); }

std::string whole_rows(std::string_view text, std::size_t* garbled) {
    std::size_t from = 0;
    const auto next_line = [&] {
        const std::size_t end = std::min(text.find('\n', from), text.size());
        std::string_view line = text.substr(from, end - from);
        from = end + 1;
        return line.ends_with('\r') ? line.substr(0, line.size() - 1) : line;
    };
    std::string out;
    std::size_t wrong = 0;
    std::string_view header;
    bool is_checked = false;
    const bool names_come =
        text.find("time_s") != std::string_view::npos || text.find("time_ms") != std::string_view::npos;
    while (from < text.size()) {
        const std::string_view line = next_line();
        const bool is_row = !line.empty() && line.front() != '#';
        const bool is_told = is_row && (line.front() == '!' || line.front() == '=' || line.front() == '?');
        if (header.empty() && names_come && line.find("time_") == std::string_view::npos) {
            // what a board says while it starts
        } else if (is_row && !is_told && header.empty()) {
            header = line;
            is_checked = columns_of_checked(line).has_value();
            out += line;
        } else if (is_row && !is_told && line != header) {
            const auto words = is_checked ? words_of_checked(line) : std::optional(line);
            wrong += words ? 0 : 1;
            out += words ? line : "";
        }
        out += '\n'; // so that every row keeps the number of its line
    }
    if (garbled != nullptr) {
        *garbled = wrong;
    }
    return out;
}

} // namespace vast_turn
