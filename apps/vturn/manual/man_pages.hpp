#pragma once

/// Manual pages, made of what --help prints.

#include <string>
#include <utility>
#include <vector>

#include "arguments.hpp"

namespace vturn {

/// Names ("vturn.1", "vturn-trips.1") and texts (roff, by the macros of man) of a page for the program and one for each
/// command.
std::vector<std::pair<std::string, std::string>> man_pages(const std::vector<CommandFacts>& commands);

} // namespace vturn
