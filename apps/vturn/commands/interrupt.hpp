#pragma once

/// Ctrl-C as a question, for work that can stop between two steps; also SIGTERM, by which batch systems and mpirun end
/// what they started.

#include <csignal>

namespace vturn {

/// While one lives, these only set a flag.
class Interrupt {
public:
    Interrupt() : before_(std::signal(SIGINT, note)), term_before_(std::signal(SIGTERM, note)) { asked_ = 0; }
    ~Interrupt() {
        std::signal(SIGINT, before_);
        std::signal(SIGTERM, term_before_);
    }
    Interrupt(const Interrupt&) = delete;
    Interrupt& operator=(const Interrupt&) = delete;

    bool asked() const { return asked_ != 0; }

private:
    static inline volatile std::sig_atomic_t asked_ = 0;
    static void note(int) { asked_ = 1; }

    void (*before_)(int);
    void (*term_before_)(int);
};

} // namespace vturn
