#pragma once

/// How far work is, for whoever waits.

#include <chrono>
#include <cstddef>
#include <string>

#include "cli.hpp"

namespace vturn {

/// Tells on the error stream how many of how many are done, and for how long it will go on at that pace: on a terminal
/// in one line, written over once a second from the first second on and gone in the end; to anything else (a log) a
/// line a minute at most. What a command prints hangs on no clock otherwise.
class Progress {
public:
    /// The streams must outlive it.
    explicit Progress(const Streams& streams);
    ~Progress() { clear(); }
    Progress(const Progress&) = delete;
    Progress& operator=(const Progress&) = delete;

    /// Of what: "runs". One call at a time.
    void tell(const char* what, std::size_t done, std::size_t all);
    /// Takes the line away, before something else is printed.
    void clear();

private:
    const Streams& streams_;
    std::chrono::steady_clock::time_point began_;
    std::chrono::steady_clock::time_point told_;
    std::string what_;      ///< that was told last; another begins anew
    std::size_t first_ = 0; ///< done when it began
    bool stands_ = false;   ///< a line on a terminal
};

} // namespace vturn
