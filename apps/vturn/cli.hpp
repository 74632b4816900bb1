#pragma once

/// The command line, callable: everything it needs comes in as arguments, so that tests run it in
/// process.

#include <iosfwd>
#include <string>
#include <vector>

namespace vast_turn {
class Crew;
}

namespace vturn {

class CallFiles;

/// Where a command reads and writes.
struct Streams {
    std::istream& in;
    std::ostream& out;               ///< results
    std::ostream& err;               ///< diagnostics and progress
    bool colour = false;             ///< whether `out` is a terminal that may be given colours
    bool err_is_terminal = false;    ///< whether somebody watches `err` as it comes
    std::ostream* raw = nullptr;     ///< where files go that are written to standard output; `out` when there is none
    CallFiles* files = nullptr;      ///< of the call
    bool out_is_terminal = false;    ///< else what is printed may be a file's text, which must stay as it is
    bool in_is_terminal = false;     ///< whether somebody types
    vast_turn::Crew* crew = nullptr; ///< other processes that make the same call; null: this one alone
    bool quiet = false;              ///< nothing but results, warnings and faults is wanted

    std::ostream& raw_out() const { return raw != nullptr ? *raw : out; }
};

/// Exit statuses of all commands.
enum Status : int {
    passed = 0,    ///< done, and the answer is yes
    answer_no = 1, ///< done, and the answer is no: a trip failed, a run did not end by halt
    unusable = 2,  ///< the input or the call cannot be used
};

/// Runs one command; `arguments` without the program's name.
int run(const std::vector<std::string>& arguments, Streams streams);

} // namespace vturn
