#pragma once

/// A call that several processes make together.

#include <chrono>
#include <functional>
#include <optional>
#include <string>

#include "cli.hpp"
#include "commands/interrupt.hpp"
#include "vast_turn/base/crew.hpp"
#include "vast_turn/base/problem.hpp"

namespace vturn {

/// Whether this process prints, writes and keeps journals: it is alone, or the first.
inline bool is_first(const Streams& streams) { return streams.crew == nullptr || streams.crew->is_first(); }

/// Ctrl-C, asked alike by all processes at the same places.
inline std::function<bool()> stop_of(const Streams& streams, const Interrupt& interrupt) {
    return [&streams, &interrupt] {
        return streams.crew == nullptr ? interrupt.asked() : streams.crew->agree(interrupt.asked());
    };
}

/// Waits for others no longer when all are told to end: one may be lost, and mpirun then ends the others.
inline void wait_no_longer_when(const Streams& streams, const Interrupt& interrupt, const std::string& journal) {
    if (streams.crew == nullptr) {
        return;
    }
    using Clock = std::chrono::steady_clock;
    streams.crew->ask_whether_to_give_up = [&interrupt, journal, since = std::optional<Clock::time_point>{}]() mutable {
        if (!interrupt.asked()) {
            since.reset();
            return;
        }
        since = since.value_or(Clock::now());
        if (Clock::now() - *since > std::chrono::milliseconds(400)) { // mpirun kills a second after it told
            throw vast_turn::InputError("", "not all processes came back: one was lost, or all are to end",
                                        journal.empty()
                                            ? "make the call again; with --resume FILE it would go on where it was"
                                            : "what was done stands in " + journal + ": make the same call again");
        }
    };
}

} // namespace vturn
