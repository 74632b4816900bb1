#pragma once

/// Lines of text with check sums, as they go over a serial line (docs/serial-line.md).

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

namespace vast_turn {

/// A line to send: its words, a comma, their check sum (CRC-16 as frames.hpp has it) as four hexadecimal digits, and a
/// line break.
std::string checked_line(std::string_view words);

/// The line with the names of a log's columns, and a last one, `check_` with the check sum of those before it, which
/// says that every row ends in its own.
std::string checked_header(std::string_view columns);

/// The words of a line (without its line break) before its check sum; nothing when that is wrong or not there. Good as
/// long as the line.
std::optional<std::string_view> words_of_checked(std::string_view line);

/// The same of a line with the names of columns.
std::optional<std::string_view> columns_of_checked(std::string_view line);

/// The rows of a log that was told over a line: what the plan said, answers to commands, names that came again and, of
/// a log with check sums, rows whose own is wrong become empty lines. `garbled` is told how many the last are.
std::string whole_rows(std::string_view text, std::size_t* garbled = nullptr);

} // namespace vast_turn
