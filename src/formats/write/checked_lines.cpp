#include "vast_turn/formats/write/checked_lines.hpp"

#include <cerrno>
#include <charconv>
#include <cstring>
#include <fcntl.h>
#include <optional>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>
#include <vector>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

std::string reason() { return std::strerror(errno); }

/// A line with its checksum in front.
std::string checked(const std::string& line) {
    Fingerprint sum;
    sum.take(line);
    return fmt::format("{:016x} {}\n", sum.value(), line);
}

/// What stands behind a checksum that matches; nothing for any other line.
std::optional<std::string> unchecked(std::string_view line) {
    if (line.size() < 17 || line[16] != ' ') {
        return std::nullopt;
    }
    const std::string rest(line.substr(17));
    return checked(rest) == fmt::format("{}\n", line) ? std::optional(rest) : std::nullopt;
}

template <class Number> bool take(std::string_view& text, Number& out) {
    const std::size_t blank = text.find(' ');
    std::string_view word = text.substr(0, blank);
    text = blank == std::string_view::npos ? std::string_view{} : text.substr(blank + 1);
    bool minus = false;
    if constexpr (std::is_floating_point_v<Number>) { // "-0x1.8p+1": from_chars knows no 0x
        minus = word.starts_with('-');
        word.remove_prefix(minus ? 1 : 0);
        if (!word.starts_with("0x")) {
            return false;
        }
        word.remove_prefix(2);
        const auto [end, fault] = std::from_chars(word.data(), word.data() + word.size(), out, std::chars_format::hex);
        out = minus ? -out : out;
        return fault == std::errc{} && end == word.data() + word.size();
    } else {
        const auto [end, fault] = std::from_chars(word.data(), word.data() + word.size(), out);
        return fault == std::errc{} && end == word.data() + word.size();
    }
}

std::string all_of(int file, const std::string& path) {
    std::string text;
    std::vector<char> part(1 << 16);
    while (true) {
        const ssize_t got = ::read(file, part.data(), part.size());
        if (got < 0 && errno == EINTR) {
            continue;
        }
        if (got < 0) {
            throw InputError(path, fmt::format("cannot be read: {}", reason()), "check the file and its rights");
        }
        if (got == 0) {
            return text;
        }
        text.append(part.data(), static_cast<std::size_t>(got));
    }
}

void write_all(int file, std::string_view text, const std::string& path) {
    while (!text.empty()) {
        const ssize_t wrote = ::write(file, text.data(), text.size());
        if (wrote < 0 && errno == EINTR) {
            continue;
        }
        if (wrote < 0) {
            throw InputError(path, fmt::format("a point cannot be written: {}", reason()),
                             "make room; what stands in the file is whole, and the call can be made again");
        }
        text.remove_prefix(static_cast<std::size_t>(wrote));
    }
}

/// Takes lines as long as they are whole; where they end.
std::size_t take_lines(const std::string& text, std::size_t from, const std::function<bool(std::string_view)>& take) {
    for (std::size_t to = text.find('\n', from); to != std::string::npos; to = text.find('\n', from)) {
        const auto line = unchecked(std::string_view(text).substr(from, to - from));
        if (!line || !take(*line)) {
            break;
        }
        from = to + 1;
    }
    return from;
}

} // namespace

void Fingerprint::take(std::string_view text) {
    const auto one = [this](unsigned char byte) { value_ = (value_ ^ byte) * 0x100000001b3U; };
    for (const char c : text) {
        one(static_cast<unsigned char>(c));
    }
    for (std::size_t size = text.size(), i = 0; i < 8; ++i, size >>= 8U) {
        one(static_cast<unsigned char>(size & 0xFFU));
    }
}

CheckedLines::CheckedLines(const std::string& path, const Purpose& purpose,
                           const std::function<bool(std::string_view)>& take)
    : path_(path), file_(::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0666)) {
    if (file_ < 0) {
        throw InputError(path, fmt::format("cannot be opened: {}", reason()),
                         "check the name, the folder and its rights");
    }
    try {
        struct stat facts {};
        if (::fstat(file_, &facts) != 0 || !S_ISREG(facts.st_mode)) {
            throw InputError(path, "is no ordinary file", "name a file for the journal");
        }
        if (::flock(file_, LOCK_EX | LOCK_NB) != 0) {
            throw InputError(path, fmt::format("another {} is writing it", purpose.what),
                             "wait for that one, or name another file");
        }
        const std::string head = checked(purpose.head);
        const std::size_t whole = read(all_of(file_, path), purpose, head, take);
        if (::ftruncate(file_, static_cast<off_t>(whole)) != 0 || ::lseek(file_, 0, SEEK_END) < 0) {
            throw InputError(path, fmt::format("cannot be written: {}", reason()), "check the file and its rights");
        }
        if (whole == 0) {
            write_all(file_, head, path);
        }
    } catch (...) {
        ::close(file_);
        throw;
    }
}

CheckedLines::CheckedLines(std::string text, const std::function<bool(std::string_view)>& take)
    : text_(std::move(text)) {
    take_lines(text_, 0, take);
}

CheckedLines::~CheckedLines() {
    if (file_ >= 0) {
        ::close(file_);
    }
}

std::size_t CheckedLines::read(const std::string& text, const Purpose& purpose, const std::string& head,
                               const std::function<bool(std::string_view)>& take) {
    const auto refuse = [&] {
        throw InputError(path_, fmt::format("is no journal of a {}", purpose.what),
                         "name a new file, or one that --resume began");
    };
    const std::size_t first = text.find('\n');
    if (first == std::string::npos) { // nothing, or a head that was cut off
        if (!head.starts_with(text)) {
            refuse();
        }
        return 0;
    }
    const auto told = unchecked(std::string_view(text).substr(0, first));
    if (!told || !told->starts_with(purpose.kind)) {
        refuse();
    }
    if (text.compare(0, first + 1, head) != 0) {
        throw InputError(path_,
                         fmt::format("is the journal of another {}: a file, a number or an option is another than then",
                                     purpose.what),
                         "make the same call again, or name a new file");
    }
    const std::size_t whole = take_lines(text, first + 1, take);
    text_ = text.substr(first + 1, whole - first - 1);
    return whole;
}

void CheckedLines::append(const std::string& line) {
    if (file_ >= 0) {
        write_all(file_, checked(line), path_);
    }
}

bool take_word(std::string_view& text, std::uint64_t& out) { return take(text, out); }
bool take_word(std::string_view& text, int& out) { return take(text, out); }
bool take_word(std::string_view& text, double& out) { return take(text, out); }

} // namespace vast_turn
