#pragma once

/// Whole files, written whole or not at all.

#include <string>
#include <string_view>

namespace vast_turn {

/// Writes a file so that it appears whole or not at all: into a new file beside it, which then
/// takes its place. Throws InputError when that fails; an older file of that name is then untouched.
void write_file(const std::string& path, std::string_view bytes);

} // namespace vast_turn
