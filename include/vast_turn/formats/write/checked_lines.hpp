#pragma once

/// A file to which lines are appended that survive whatever ends the process.

#include <cstddef>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>

namespace vast_turn {

/// A number by which two texts are told apart: FNV-1a of 64 bits (Fowler, Noll, Vo; draft-eastlake-fnv), of one text
/// behind the other.
class Fingerprint {
public:
    /// Takes a text in; its length too, so that two texts are not one.
    void take(std::string_view text);
    std::uint64_t value() const { return value_; }

private:
    std::uint64_t value_ = 0xcbf29ce484222325U;
};

/// Each line has a checksum in front. A line that was cut off by the end of its process, or does not match its
/// checksum, ends what is known; it is written over. While one lives no other process may open the same file.
class CheckedLines {
public:
    /// A journal of what: "sweep"; its first line says `head`, and that begins with `kind`.
    struct Purpose {
        std::string what;
        std::string kind;
        std::string head;
    };

    /// Opens or begins it. `take` is given each line that is there; what it says no to ends what is known. Throws
    /// InputError when the file cannot be opened, is in use, is for something else, or has another head.
    CheckedLines(const std::string& path, const Purpose& purpose, const std::function<bool(std::string_view)>& take);
    /// One that only knows what another has read: of its text. Appends nothing.
    CheckedLines(std::string text, const std::function<bool(std::string_view)>& take);
    ~CheckedLines();
    CheckedLines(const CheckedLines&) = delete;
    CheckedLines& operator=(const CheckedLines&) = delete;

    /// What was known when it was opened, for other processes.
    const std::string& text() const { return text_; }

    /// Writes one line behind the others, at once. Throws InputError when that fails. One call at a time.
    void append(const std::string& line);

private:
    std::size_t read(const std::string& text, const Purpose& purpose, const std::string& head,
                     const std::function<bool(std::string_view)>& take);

    std::string path_;
    int file_ = -1;
    std::string text_; ///< without the head
};

/// Numbers of such lines, blank by blank: takes the first word off a text; false when it is no such number. Floating
/// point numbers are hexadecimal, so that no bit is lost: "-0x1.8p+1".
bool take_word(std::string_view& text, std::uint64_t& out);
bool take_word(std::string_view& text, int& out);
bool take_word(std::string_view& text, double& out);

} // namespace vast_turn
