#include "wire/program_line.hpp"

#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstring>
#include <poll.h>
#include <spawn.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

/// Milliseconds that are left of a patience, at least 0.
class Patience {
public:
    explicit Patience(double seconds)
        : until_(Clock::now() + std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(seconds))) {}
    int left_ms() const {
        const auto left = std::chrono::duration_cast<std::chrono::milliseconds>(until_ - Clock::now()).count();
        return left > 0 ? static_cast<int>(left) : 0;
    }

private:
    using Clock = std::chrono::steady_clock;
    Clock::time_point until_;
};

InputError no_start(const std::string& name, int error) {
    return InputError("", fmt::format("the program `{}` cannot be started: {}", name, std::strerror(error)),
                      "give a program's name or path, with its arguments behind it");
}

} // namespace

ProgramLine::ProgramLine(const std::vector<std::string>& words) {
    int ends[2];
    if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, ends) != 0) {
        throw no_start(words.front(), errno);
    }
    posix_spawn_file_actions_t actions{};
    ::posix_spawn_file_actions_init(&actions);
    ::posix_spawn_file_actions_adddup2(&actions, ends[1], STDIN_FILENO);
    ::posix_spawn_file_actions_adddup2(&actions, ends[1], STDOUT_FILENO);
    std::vector<std::string> copies = words; // posix_spawnp wants them writable
    std::vector<char*> pointers;
    for (std::string& one : copies) {
        pointers.push_back(one.data());
    }
    pointers.push_back(nullptr);
    const int error = ::posix_spawnp(&child_, pointers[0], &actions, nullptr, pointers.data(), environ);
    ::posix_spawn_file_actions_destroy(&actions);
    ::close(ends[1]);
    socket_ = ends[0];
    if (error != 0) {
        ::close(socket_);
        throw no_start(words.front(), error);
    }
}

bool ProgramLine::ends_within(int ms) const {
    for (int waited = 0; waited <= ms; ++waited) {
        const pid_t done = ::waitpid(child_, nullptr, WNOHANG);
        if (done == child_ || (done < 0 && errno != EINTR)) {
            return true;
        }
        ::usleep(1000);
    }
    return false;
}

/// It sees the end of its input; one that goes on all the same is told to end, and then ended.
ProgramLine::~ProgramLine() {
    constexpr int gracious_ms = 300;
    ::close(socket_);
    if (ends_within(gracious_ms)) {
        return;
    }
    ::kill(child_, SIGTERM);
    if (ends_within(gracious_ms)) {
        return;
    }
    ::kill(child_, SIGKILL);
    while (::waitpid(child_, nullptr, 0) < 0 && errno == EINTR) {
    }
}

bool ProgramLine::send(std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t n = ::send(socket_, bytes.data(), bytes.size(), MSG_NOSIGNAL);
        if (n < 0 && errno != EINTR) {
            return false;
        }
        bytes.remove_prefix(n > 0 ? static_cast<std::size_t>(n) : 0);
    }
    return true;
}

std::string ProgramLine::receive(double patience_s) {
    const Patience patience(patience_s);
    for (;;) {
        pollfd end{socket_, POLLIN, 0};
        const int ready = ::poll(&end, 1, patience.left_ms());
        if (ready == 0 || (ready < 0 && errno != EINTR)) {
            return "";
        }
        if (ready < 0) {
            continue;
        }
        char bytes[4096];
        const ssize_t n = ::recv(socket_, bytes, sizeof bytes, 0);
        if (n > 0) {
            return {bytes, static_cast<std::size_t>(n)};
        }
        if (n == 0 || errno != EINTR) {
            ended_ = true;
            return "";
        }
    }
}

} // namespace vast_turn
