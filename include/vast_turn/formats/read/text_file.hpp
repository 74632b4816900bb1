#pragma once

/// Whole files, read at once.

#include <cstddef>
#include <string>

namespace vast_turn {

/// The bytes of a file. Throws InputError when it cannot be read or is larger than `largest`.
std::string read_file(const std::string& path, std::size_t largest = std::size_t{16} << 20U);

} // namespace vast_turn
