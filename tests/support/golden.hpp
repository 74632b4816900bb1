#pragma once

#include <string>
#include <vector>

namespace golden {

/// Whether expected outputs are written anew (VTURN_COLLECT=1) instead of compared.
bool collecting();

/// Compares a text with tests/golden/NAME, or writes it there when collecting.
void check(const std::string& name, const std::string& text);

/// One case of a catalogue: an input and the message that it must give.
struct Case {
    std::string title;
    std::string input;
    std::string expected;
};

/// Reads a catalogue: cases begin with a line "=== title"; a line "---" parts input and message.
std::vector<Case> catalogue(const std::string& path);

/// Compares every case with what `message` makes of its input, or writes them when collecting.
void check_catalogue(const std::string& path, std::string (*message)(const std::string&));

} // namespace golden
