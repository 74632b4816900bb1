#pragma once

/// What a shell proposes while a call of vturn is typed.

#include <string>
#include <vector>

#include "arguments.hpp"

namespace vturn {

/// `words`: those of the call so far, the last one being typed and perhaps empty. Commands, options, files by their
/// endings, and names that stand in files: starts, variants, trips, habits. Each proposal is a whole word. Reads what
/// it needs, writes nothing, and proposes nothing where it cannot read.
std::vector<std::string> completions(const std::vector<CommandFacts>& commands, const std::vector<std::string>& words);

} // namespace vturn
