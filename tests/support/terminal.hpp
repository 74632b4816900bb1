#pragma once

#include <string>
#include <vector>

#include <sys/types.h>

namespace fixtures {

/// A program run in a terminal of its own, typed to only when it shows what it was waited for: so it is the same on a
/// machine that is busy.
class Terminal {
public:
    Terminal(const std::vector<std::string>& words, int rows, int columns);
    ~Terminal();
    Terminal(const Terminal&) = delete;
    Terminal& operator=(const Terminal&) = delete;
    Terminal(Terminal&&) = delete;
    Terminal& operator=(Terminal&&) = delete;

    void type(const std::string& keys) const;
    /// Whether `text` comes, after what earlier calls have seen, within a minute.
    bool shows(const std::string& text);
    /// The status it ends with; -1 when it does not end within a minute or is ended by a signal.
    int ended();
    /// All that it wrote.
    const std::string& wrote() const { return wrote_; }

private:
    /// Reads what is there, waiting up to a tenth of a second; false at its end.
    bool read_more();

    int terminal_ = -1;
    pid_t pid_ = -1;
    std::string wrote_;
    std::size_t seen_ = 0;
};

} // namespace fixtures
