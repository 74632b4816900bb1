#pragma once

/// Whole files: read at once, written whole or not at all.

#include <cstddef>
#include <string>
#include <string_view>

namespace vast_turn {

/// The bytes of a file. Throws InputError when it cannot be read or is larger than `largest`.
std::string read_file(const std::string& path, std::size_t largest = std::size_t{16} << 20U);

/// Writes a file so that it appears whole or not at all: into a new file beside it, which then
/// takes its place. Throws InputError when that fails; an older file of that name is then untouched.
void write_file(const std::string& path, std::string_view bytes);

} // namespace vast_turn
