#pragma once

/// The words of the plan language, for editors and other tools.

#include <string>
#include <vector>

namespace vast_turn {

/// Every word of the language, sorted: words of the grammar, inputs, functions, motions and units.
std::vector<std::string> language_words();

} // namespace vast_turn
