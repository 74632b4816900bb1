#pragma once

/// A program that runs beside this one, and the line to its standard input and output.

#include <string>
#include <string_view>
#include <vector>

#include <sys/types.h>

namespace vast_turn {

/// Starts it, talks with it, and ends it with its own end. Its error stream is ours.
class ProgramLine {
public:
    /// Throws InputError when it cannot be started.
    explicit ProgramLine(const std::vector<std::string>& words);
    ProgramLine(const ProgramLine&) = delete;
    ProgramLine& operator=(const ProgramLine&) = delete;
    ~ProgramLine();

    /// Gives it bytes. False when it takes no more.
    bool send(std::string_view bytes);

    /// What it wrote, at least a byte, waited for no longer than this. Empty when nothing came, or it has ended its
    /// output.
    std::string receive(double patience_s);

    /// Whether its output has ended.
    bool ended() const { return ended_; }

private:
    bool ends_within(int ms) const;

    int socket_ = -1;
    pid_t child_ = 0;
    bool ended_ = false;
};

} // namespace vast_turn
