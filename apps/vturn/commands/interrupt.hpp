#pragma once

/// Ctrl-C as a question, for work that can stop between two steps.

#include <csignal>

namespace vturn {

/// While one lives, Ctrl-C only sets a flag.
class Interrupt {
public:
    Interrupt() : before_(std::signal(SIGINT, [](int) { asked_ = 1; })) { asked_ = 0; }
    ~Interrupt() { std::signal(SIGINT, before_); }
    Interrupt(const Interrupt&) = delete;
    Interrupt& operator=(const Interrupt&) = delete;

    bool asked() const { return asked_ != 0; }

private:
    static inline volatile std::sig_atomic_t asked_ = 0;
    void (*before_)(int);
};

} // namespace vturn
