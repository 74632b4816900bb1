#pragma once

/// What is asked of a TOML text before the library that reads it may see it.

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

namespace vast_turn {

/// What is wrong, and at which byte.
struct TomlFault {
    std::size_t at = 0;
    std::string message;
    std::string cure;
};

/// The first thing for which the text is refused unread: bytes that are no UTF-8, characters beyond ASCII outside
/// texts and comments (TOML 1.0 knows none there), keys of more than 16 parts, brackets more than 32 deep, more than
/// 200,000 values. The library is recursive where these are deep, and takes a hundred bytes and more for each value.
std::optional<TomlFault> fault_before_parsing(std::string_view text);

} // namespace vast_turn
