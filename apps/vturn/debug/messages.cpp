#include "debug/messages.hpp"

#include <charconv>
#include <istream>
#include <ostream>

#include "vast_turn/base/problem.hpp"

namespace vturn {

using vast_turn::InputError;

namespace {

constexpr std::size_t largest = std::size_t{16} << 20U;
constexpr std::size_t longest_header = 4096;

[[noreturn]] void refuse(const std::string& message) {
    throw InputError("standard input", message, "write Content-Length: N, an empty line, and N bytes of JSON");
}

/// A line of the header without its end; nothing at the end of the input.
std::optional<std::string> header_line(std::istream& in) {
    std::string line;
    for (int c = in.get(); c != std::istream::traits_type::eof(); c = in.get()) {
        if (c == '\n') {
            if (!line.empty() && line.back() == '\r') {
                line.pop_back();
            }
            return line;
        }
        if (line.size() >= longest_header) {
            refuse("the header of a message is longer than 4096 bytes");
        }
        line += static_cast<char>(c);
    }
    return line.empty() ? std::nullopt : std::optional(line);
}

} // namespace

std::optional<std::string> read_message(std::istream& in) {
    std::optional<std::size_t> length;
    for (bool first = true;; first = false) {
        const std::optional<std::string> line = header_line(in);
        if (!line) {
            if (first) {
                return std::nullopt;
            }
            refuse("the input ends within the header of a message");
        }
        if (line->empty()) {
            break;
        }
        const std::string name = "Content-Length: ";
        if (line->compare(0, name.size(), name) == 0) {
            std::size_t value = 0;
            const char* end = line->data() + line->size();
            const auto [stopped, error] = std::from_chars(line->data() + name.size(), end, value);
            if (error != std::errc{} || stopped != end) {
                refuse("the length of a message is no number");
            }
            length = value;
        }
    }
    if (!length) {
        refuse("a message has no length");
    }
    if (*length > largest) {
        refuse("a message is larger than 16 MiB");
    }
    std::string text(*length, '\0');
    in.read(text.data(), static_cast<std::streamsize>(text.size()));
    if (static_cast<std::size_t>(in.gcount()) < text.size()) {
        refuse("the input ends within a message");
    }
    return text;
}

void write_message(std::ostream& out, const std::string& text) {
    out << "Content-Length: " << text.size() << "\r\n\r\n" << text << std::flush;
}

} // namespace vturn
