#pragma once

/// How far work is, for whoever waits.

#include <chrono>
#include <cstddef>

#include "cli.hpp"

namespace vturn {

/// Tells on the error stream how many of how many are done: to a terminal once a second from the first second on, to
/// anything else (a log) at most once a minute. What a command prints hangs on no clock otherwise.
class Progress {
public:
    /// The streams must outlive it.
    explicit Progress(const Streams& streams);

    /// Of what: "runs". One call at a time.
    void tell(const char* what, std::size_t done, std::size_t all);

private:
    const Streams& streams_;
    std::chrono::steady_clock::time_point told_;
};

} // namespace vturn
