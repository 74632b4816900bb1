#pragma once

/// The files of one call: what it reads, what it writes, and that these are not the same.

#include <string>
#include <string_view>
#include <vector>

namespace vturn {

struct Streams;

class CallFiles {
public:
    /// Notes a file that is read (or `under=FILE`) or written; empty names and standard input are none.
    void reads(const std::string& name);
    void writes(const std::string& path);

    /// Throws InputError when a file would be written that is read too, or written twice, or into a folder that is not
    /// there. Devices and pipes may be written as often as wanted. Asked before anything runs, and again when more
    /// becomes known to be read.
    void check() const;

    /// How many of them go to standard output.
    std::size_t to_standard_output() const;

    /// The files that the call is about, as it names them, to be written behind another command.
    std::string words;

    /// Whether it is made by another call: the demo.
    bool is_within = false;

    /// Whether the drawing of a course may lie anywhere; an option of the commands that read courses.
    bool drawings_anywhere = false;

private:
    std::vector<std::string> read_;
    std::vector<std::string> written_;
};

/// Whether a name means standard output: `-`, or `-.svg` and such where the ending says what is written.
bool is_standard_output(const std::string& path);

/// Writes a file, or to standard output when that is its name. Reports then go to the error stream.
void write_output(const Streams& streams, const std::string& path, std::string_view bytes);

/// Says on a terminal what one does next: `call`, for the same files unless it is about none. Never where the output is
/// read by a program.
void say_next(const Streams& streams, const std::string& call, const std::string& what_for, bool same_files = true);

/// Notes that a call reads a file too, which its other files named: a course's drawing. Throws as CallFiles::check().
void also_reads(const Streams& streams, const std::string& path);

} // namespace vturn
