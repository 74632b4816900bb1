#include "support/terminal.hpp"

#include <array>
#include <chrono>
#include <csignal>
#include <cstdlib>

#include <poll.h>
#include <pty.h>
#include <sys/wait.h>
#include <unistd.h>

#include <doctest/doctest.h>

namespace fixtures {
namespace {

class Minute {
public:
    bool is_over() const { return std::chrono::steady_clock::now() > end_; }

private:
    std::chrono::steady_clock::time_point end_ = std::chrono::steady_clock::now() + std::chrono::minutes(1);
};

} // namespace

Terminal::Terminal(const std::vector<std::string>& words, int rows, int columns) {
    winsize size{};
    size.ws_row = static_cast<unsigned short>(rows);
    size.ws_col = static_cast<unsigned short>(columns);
    std::vector<std::string> own = words;
    std::vector<char*> argv;
    for (std::string& word : own) {
        argv.push_back(word.data());
    }
    argv.push_back(nullptr);
    pid_ = ::forkpty(&terminal_, nullptr, nullptr, &size);
    if (pid_ == 0) {
        ::setenv("TERM", "xterm", 1);
        ::execv(argv.front(), argv.data());
        ::_exit(127);
    }
    REQUIRE(pid_ > 0);
}

Terminal::~Terminal() {
    if (pid_ > 0) {
        ::kill(pid_, SIGKILL);
        ::waitpid(pid_, nullptr, 0);
    }
    ::close(terminal_);
}

bool Terminal::read_more() {
    pollfd ready{terminal_, POLLIN, 0};
    if (::poll(&ready, 1, 100) <= 0) {
        return true;
    }
    std::array<char, 4096> part{};
    const ssize_t n = ::read(terminal_, part.data(), part.size());
    if (n <= 0) {
        return false;
    }
    wrote_.append(part.data(), static_cast<std::size_t>(n));
    return true;
}

void Terminal::type(const std::string& keys) const {
    REQUIRE(::write(terminal_, keys.data(), keys.size()) == static_cast<ssize_t>(keys.size()));
}

bool Terminal::shows(const std::string& text) {
    const Minute minute;
    std::size_t at = wrote_.find(text, seen_);
    while (at == std::string::npos && !minute.is_over() && read_more()) {
        at = wrote_.find(text, seen_);
    }
    seen_ = at == std::string::npos ? seen_ : at + text.size();
    return at != std::string::npos;
}

int Terminal::ended() {
    const Minute minute;
    while (!minute.is_over() && read_more()) {
    }
    int status = 0;
    while (::waitpid(pid_, &status, WNOHANG) == 0) {
        if (minute.is_over()) {
            return -1;
        }
        ::usleep(10'000);
    }
    pid_ = -1;
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

} // namespace fixtures
