#include "view/filter_program.hpp"

#include <cerrno>
#include <csignal>
#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

namespace vast_turn {

namespace {

constexpr std::size_t most_bytes = std::size_t{256} << 20U;

/// A pipe that no other program started meanwhile gets hold of.
class Pipe {
public:
    Pipe() {
        if (::pipe2(ends_, O_CLOEXEC) != 0) {
            ends_[0] = ends_[1] = -1;
        }
    }
    Pipe(const Pipe&) = delete;
    Pipe& operator=(const Pipe&) = delete;
    ~Pipe() {
        close_end(0);
        close_end(1);
    }
    int out() const { return ends_[0]; }
    int in() const { return ends_[1]; }
    bool fine() const { return ends_[0] >= 0; }
    void close_end(int which) {
        if (ends_[which] >= 0) {
            ::close(ends_[which]);
            ends_[which] = -1;
        }
    }

private:
    int ends_[2];
};

/// The child's input and output; its error stream goes nowhere.
class FileActions {
public:
    FileActions(int input, int output) {
        ::posix_spawn_file_actions_init(&actions_);
        ::posix_spawn_file_actions_adddup2(&actions_, input, STDIN_FILENO);
        ::posix_spawn_file_actions_adddup2(&actions_, output, STDOUT_FILENO);
        ::posix_spawn_file_actions_addopen(&actions_, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
    }
    FileActions(const FileActions&) = delete;
    FileActions& operator=(const FileActions&) = delete;
    ~FileActions() { ::posix_spawn_file_actions_destroy(&actions_); }
    const posix_spawn_file_actions_t* get() const { return &actions_; }

private:
    posix_spawn_file_actions_t actions_{};
};

/// A program that goes away before it has read everything is no reason to end ours: this thread gets no SIGPIPE
/// meanwhile, and none that came is left behind.
class NoPipeSignal {
public:
    NoPipeSignal() {
        ::sigemptyset(&pipe_);
        ::sigaddset(&pipe_, SIGPIPE);
        ::pthread_sigmask(SIG_BLOCK, &pipe_, &before_);
    }
    NoPipeSignal(const NoPipeSignal&) = delete;
    NoPipeSignal& operator=(const NoPipeSignal&) = delete;
    ~NoPipeSignal() {
        const timespec at_once{};
        while (::sigtimedwait(&pipe_, nullptr, &at_once) < 0 && errno == EINTR) {
        }
        ::pthread_sigmask(SIG_SETMASK, &before_, nullptr);
    }

private:
    sigset_t pipe_{};
    sigset_t before_{};
};

/// Writes what there is to write and reads what there is to read until the other side has closed its output.
bool exchange(Pipe& to, Pipe& from, std::string_view input, std::string& output) {
    ::fcntl(to.in(), F_SETFL, O_NONBLOCK); // NOLINT(cppcoreguidelines-pro-type-vararg)
    for (;;) {
        if (input.empty()) {
            to.close_end(1);
        }
        pollfd ends[2] = {{from.out(), POLLIN, 0}, {to.in(), POLLOUT, 0}}; // poll passes over a negative one
        if (::poll(ends, 2, -1) < 0 && errno != EINTR) {
            return false;
        }
        if (ends[1].revents != 0) {
            const ssize_t n = ::write(to.in(), input.data(), input.size());
            if (n < 0 && errno != EAGAIN && errno != EINTR) {
                input = {}; // it reads no more
            }
            input.remove_prefix(n > 0 ? static_cast<std::size_t>(n) : 0);
        }
        if (ends[0].revents != 0) {
            char bytes[65536];
            const ssize_t n = ::read(from.out(), bytes, sizeof bytes);
            if (n == 0) {
                return true;
            }
            if (n < 0 && errno != EINTR) {
                return false;
            }
            output.append(bytes, n > 0 ? static_cast<std::size_t>(n) : 0);
            if (output.size() > most_bytes) {
                return false;
            }
        }
    }
}

bool ended_well(pid_t child) {
    int status = 0;
    while (::waitpid(child, &status, 0) < 0) {
        if (errno != EINTR) {
            return false;
        }
    }
    return WIFEXITED(status) && WEXITSTATUS(status) == 0;
}

} // namespace

std::optional<std::string> filtered(const std::vector<std::string>& arguments, std::string_view input) {
    Pipe to;
    Pipe from;
    if (!to.fine() || !from.fine()) {
        return std::nullopt;
    }
    std::vector<std::string> copies = arguments; // posix_spawnp wants them writable
    std::vector<char*> pointers;
    for (std::string& one : copies) {
        pointers.push_back(one.data());
    }
    pointers.push_back(nullptr);
    const FileActions actions(to.out(), from.in());
    const NoPipeSignal no_signal;
    pid_t child = 0;
    if (::posix_spawnp(&child, pointers[0], actions.get(), nullptr, pointers.data(), environ) != 0) {
        return std::nullopt;
    }
    to.close_end(0);
    from.close_end(1);
    std::string output;
    const bool whole = exchange(to, from, input, output);
    from.close_end(0); // one that writes without end then ends
    to.close_end(1);
    return ended_well(child) && whole ? std::optional(std::move(output)) : std::nullopt;
}

} // namespace vast_turn
