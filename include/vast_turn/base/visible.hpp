#pragma once

/// Texts that come from outside, made fit to be shown.

#include <string>
#include <string_view>

namespace vast_turn {

/// The text with a visible mark in place of everything that a terminal or a page would obey rather than show: control
/// characters become their pictures (U+2400 to U+2421: ESC is shown as one sign), characters that turn the direction
/// of writing or join and part words unseen become `<U+202E>`, and bytes that are no UTF-8 `<9B>`. Line breaks and tabs
/// stay, all other text stays byte for byte.
std::string visible(std::string_view text);

/// The longest piece at the text's end that may be the beginning of a character: 0 to 3 bytes. Who writes a text piece
/// by piece keeps it for the next.
std::size_t unfinished_bytes(std::string_view text);

} // namespace vast_turn
