#include "bench/typed.hpp"

#include <array>
#include <cerrno>
#include <iostream>
#include <istream>
#include <iterator>

#include <poll.h>
#include <unistd.h>

#include "vast_turn/base/utf8.hpp"

namespace vturn {

namespace {

constexpr std::size_t longest_line = std::size_t{64} << 10U;

} // namespace

Typed::Typed(const Streams& streams, bool keys)
    : in_(streams.in), of_process_(&streams.in == &std::cin), keys_(keys && of_process_ && streams.in_is_terminal) {
    if (keys_) {
        termios settings{};
        if (::tcgetattr(STDIN_FILENO, &settings) == 0) {
            before_ = settings;
            settings.c_lflag &= ~static_cast<tcflag_t>(ICANON | ECHO);
            ::tcsetattr(STDIN_FILENO, TCSANOW, &settings);
        }
    }
}

Typed::~Typed() {
    if (before_) {
        ::tcsetattr(STDIN_FILENO, TCSANOW, &*before_);
    }
}

void Typed::read_more() {
    if (!of_process_) {
        waiting_.assign(std::istreambuf_iterator<char>(in_), {});
        ended_ = true;
        return;
    }
    pollfd ready{STDIN_FILENO, POLLIN, 0};
    if (::poll(&ready, 1, 0) <= 0) {
        return;
    }
    std::array<char, 4096> part{};
    const ssize_t n = ::read(STDIN_FILENO, part.data(), part.size());
    if (n > 0) {
        waiting_.append(part.data(), static_cast<std::size_t>(n));
    } else {
        ended_ = n == 0 || errno != EINTR;
    }
}

std::optional<std::string> Typed::next() {
    const auto whole = [&] { return keys_ ? !waiting_.empty() : waiting_.find('\n') != std::string::npos; };
    if (!whole() && !ended_) {
        read_more();
    }
    if (waiting_.empty() || (!whole() && !ended_ && waiting_.size() < longest_line)) {
        return std::nullopt;
    }
    const std::size_t end = keys_ ? std::min(vast_turn::bytes_begun_by(waiting_.front()), waiting_.size())
                                  : std::min({waiting_.find('\n'), waiting_.size(), longest_line});
    std::string line = waiting_.substr(0, end);
    waiting_.erase(0, keys_ ? end : end + 1);
    if (!line.empty() && line.back() == '\r') {
        line.pop_back();
    }
    return line;
}

} // namespace vturn
