#pragma once

/// The commands as a page of Markdown, made of what --help prints.

#include <string>
#include <vector>

#include "arguments.hpp"

namespace vturn {

/// All commands by the steps of the job: what each does, its words and options, its examples.
std::string reference_page(const std::vector<CommandFacts>& commands);

} // namespace vturn
