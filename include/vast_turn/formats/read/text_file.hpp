#pragma once

/// Whole files, read at once.

#include <cstddef>
#include <iosfwd>
#include <string>

namespace vast_turn {

/// The bytes of a file. Throws InputError when it cannot be read or is larger than `largest`.
std::string read_file(const std::string& path, std::size_t largest = std::size_t{16} << 20U);

/// All that a stream gives, with the same bound; `name` is what faults call it.
std::string read_stream(std::istream& in, const std::string& name, std::size_t largest = std::size_t{16} << 20U);

} // namespace vast_turn
