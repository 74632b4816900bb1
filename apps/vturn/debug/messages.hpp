#pragma once

/// Messages of the Debug Adapter and Language Server Protocols: JSON behind a header that tells its length.

#include <iosfwd>
#include <optional>
#include <string>

namespace vturn {

/// Reads one message's text; nothing at the end of the input. Throws InputError for what is no message: a header
/// without a length, more than 16 MiB, an end within it.
std::optional<std::string> read_message(std::istream& in);

/// Writes one and flushes.
void write_message(std::ostream& out, const std::string& text);

} // namespace vturn
