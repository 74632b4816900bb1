#pragma once

/// What somebody types, or a script says, while a command goes on with its work.

#include <optional>
#include <string>

#include <termios.h>

#include "cli.hpp"

namespace vturn {

/// Lines of the call's input as they come, or single keys where it is a terminal and keys are wanted. Nothing is waited
/// for. The terminal is as it was when this ends.
class Typed {
public:
    Typed(const Streams& streams, bool keys);
    Typed(const Typed&) = delete;
    Typed& operator=(const Typed&) = delete;
    ~Typed();

    /// The next line without its end, or key; nothing when there is none yet, or none any more.
    std::optional<std::string> next();
    /// Whether nothing more will come.
    bool ended() const { return ended_ && waiting_.empty(); }
    bool by_keys() const { return keys_; }

private:
    void read_more();

    std::istream& in_;
    bool of_process_; ///< standard input, which is looked at without waiting
    bool keys_;
    bool ended_ = false;
    std::string waiting_;
    std::optional<termios> before_;
};

} // namespace vturn
