#pragma once

/// Whole files, written whole or not at all.

#include <string>
#include <string_view>

namespace vast_turn {

/// Writes a file so that it appears whole or not at all, whatever happens on the way, a full disk or the end of the
/// process. Until it is whole it has no name; only then it takes the place of an older file.
///
/// Symbolic links are followed. A file that is there keeps its owner and mode; a new one has the mode that the umask
/// leaves. One with several hard links is replaced under this name alone, the others keep what was in it. A device, a
/// pipe, a socket or an open file of a process (/dev/null, /dev/stdout, what a shell makes of `>(command)`) gets the
/// bytes as they are.
///
/// Throws InputError when it cannot be done, also when the file may not be written or belongs to somebody whom the new
/// one could not be given to; what was there is then untouched.
void write_file(const std::string& path, std::string_view bytes);

} // namespace vast_turn
