#pragma once

/// Other programs as functions from text to text.

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace vast_turn {

/// Starts a program, found in PATH, with these arguments (the first is its name), gives it `input` and returns what it
/// writes to its standard output. Nothing when it cannot be started, fails, or writes more than 256 MiB. No shell takes
/// part; its error stream goes nowhere.
std::optional<std::string> filtered(const std::vector<std::string>& arguments, std::string_view input);

} // namespace vast_turn
