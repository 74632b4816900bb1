#include "bench/serial_port.hpp"

#include <algorithm>
#include <array>
#include <cerrno>
#include <chrono>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <iterator>
#include <system_error>

#include <fcntl.h>
#include <poll.h>
#include <termios.h>
#include <unistd.h>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vturn {

namespace {

using vast_turn::InputError;

constexpr std::pair<int, speed_t> rates[] = {
    {4800, B4800},     {9600, B9600},     {19200, B19200},   {38400, B38400},   {57600, B57600},    {115200, B115200},
    {230400, B230400}, {460800, B460800}, {500000, B500000}, {921600, B921600}, {1000000, B1000000}};

speed_t rate_of(int bits_s) {
    const auto* const found =
        std::find_if(std::begin(rates), std::end(rates), [&](const auto& rate) { return rate.first == bits_s; });
    if (found == std::end(rates)) {
        std::string known;
        for (const auto& [bits, unused] : rates) {
            known += fmt::format("{}{}", known.empty() ? "" : ", ", bits);
        }
        throw InputError("", fmt::format("a serial line does not go at {} bits a second", bits_s),
                         "one of " + known + ", as the robot's program has it");
    }
    return found->second;
}

long long now_ms() {
    return std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::steady_clock::now().time_since_epoch())
        .count();
}

bool waits(int file, short for_what, int wait_ms) {
    pollfd ready{file, for_what, 0};
    return ::poll(&ready, 1, wait_ms) > 0;
}

/// What can be read; nothing at all for an end that is gone.
bool read_some(int file, std::string& into) {
    std::array<char, 4096> part{};
    const ssize_t n = ::read(file, part.data(), part.size());
    if (n > 0) {
        into.assign(part.data(), static_cast<std::size_t>(n));
        return true;
    }
    return n < 0 && (errno == EAGAIN || errno == EINTR);
}

/// Bytes as they are, in both directions.
void make_raw(int file, speed_t rate) {
    termios settings{};
    if (::tcgetattr(file, &settings) != 0) {
        return;
    }
    ::cfmakeraw(&settings);
    ::cfsetispeed(&settings, rate);
    ::cfsetospeed(&settings, rate);
    settings.c_cflag |= CLOCAL | CREAD;
    settings.c_cflag &= ~static_cast<tcflag_t>(CRTSCTS | CSTOPB | PARENB);
    ::tcsetattr(file, TCSANOW, &settings);
}

} // namespace

SerialPort::SerialPort(std::string name, int bits_s) : name_(std::move(name)), rate_(rate_of(bits_s)) {}

void SerialPort::close() {
    if (file_ >= 0) {
        ::close(file_);
        file_ = -1;
    }
}

bool SerialPort::is_open() {
    if (file_ >= 0) {
        return true;
    }
    if (now_ms() - tried_ms_ < 200) {
        return false;
    }
    tried_ms_ = now_ms();
    file_ = ::open(name_.c_str(), O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
    if (file_ < 0) {
        why_ = std::strerror(errno);
        return false;
    }
    if (::isatty(file_) == 0) {
        close();
        throw InputError(name_, "this is no serial port", "name the port that the robot is at: /dev/ttyUSB0, say");
    }
    make_raw(file_, static_cast<speed_t>(rate_));
    ::tcflush(file_, TCIFLUSH); // what was told while nobody listened
    return true;
}

std::string SerialPort::read(int wait_ms) {
    std::string bytes;
    if (file_ < 0) {
        ::poll(nullptr, 0, wait_ms);
    } else if (waits(file_, POLLIN, wait_ms) && !read_some(file_, bytes)) {
        close();
        why_ = "the line is gone";
    }
    return bytes;
}

bool SerialPort::write(const std::string& bytes) {
    std::size_t at = 0;
    while (file_ >= 0 && at < bytes.size()) {
        const ssize_t n = ::write(file_, bytes.data() + at, bytes.size() - at);
        if (n > 0) {
            at += static_cast<std::size_t>(n);
        } else if (errno != EINTR && !(errno == EAGAIN && waits(file_, POLLOUT, 100))) {
            return false; // it is full, and nobody reads
        }
    }
    return file_ >= 0;
}

PseudoTerminal::PseudoTerminal(const std::string& link) : link_(link) {
    std::error_code fault;
    const std::filesystem::file_status there = std::filesystem::symlink_status(link_, fault);
    if (!link_.empty() && std::filesystem::exists(there) && !std::filesystem::is_symlink(there)) {
        throw InputError(link_, "something is there that is no link", "give the port a name that is free");
    }
    plug();
}

PseudoTerminal::~PseudoTerminal() { unplug(); }

void PseudoTerminal::plug() {
    file_ = ::posix_openpt(O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
    std::array<char, 128> name{};
    if (file_ < 0 || ::grantpt(file_) != 0 || ::unlockpt(file_) != 0 ||
        ::ptsname_r(file_, name.data(), name.size()) != 0) {
        throw InputError("", fmt::format("there is no pseudo-terminal to be had: {}", std::strerror(errno)),
                         "close some terminals");
    }
    device_ = name.data();
    kept_ = ::open(device_.c_str(), O_RDWR | O_NOCTTY | O_CLOEXEC);
    make_raw(kept_, B115200);
    if (!link_.empty()) {
        std::error_code fault;
        const std::string beside = fmt::format("{}.{}", link_, ::getpid());
        std::filesystem::remove(beside, fault);
        std::filesystem::create_symlink(device_, beside, fault);
        if (!fault) {
            std::filesystem::rename(beside, link_, fault); // at once, whatever was there
        }
        if (fault) {
            throw InputError(link_, fmt::format("it cannot be made: {}", fault.message()),
                             "give the port a name in a folder of your own");
        }
    }
}

void PseudoTerminal::unplug() {
    for (int* file : {&kept_, &file_}) {
        if (*file >= 0) {
            ::close(*file);
            *file = -1;
        }
    }
    if (!link_.empty()) { // its number may soon be another terminal's
        std::error_code fault;
        std::filesystem::remove(link_, fault);
    }
}

std::string PseudoTerminal::read(int wait_ms) {
    std::string bytes;
    if (file_ < 0) {
        ::poll(nullptr, 0, wait_ms);
    } else if (waits(file_, POLLIN, wait_ms)) {
        read_some(file_, bytes);
    }
    return bytes;
}

void PseudoTerminal::write(const std::string& bytes) {
    std::size_t at = 0;
    while (file_ >= 0 && at < bytes.size()) {
        const ssize_t n = ::write(file_, bytes.data() + at, bytes.size() - at);
        if (n > 0) {
            at += static_cast<std::size_t>(n);
        } else if (errno != EINTR) {
            return; // nobody reads
        }
    }
}

} // namespace vturn
