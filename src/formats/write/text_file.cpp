#include "vast_turn/formats/write/text_file.hpp"

#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <sys/stat.h>
#include <unistd.h>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

[[noreturn]] void cannot_write(const std::string& path, int error) {
    throw InputError(path, fmt::format("cannot be written: {}", std::strerror(error)),
                     "check the folder and its permissions");
}

/// Removes a file that was not finished.
class Unfinished {
public:
    explicit Unfinished(std::string path) : path_(std::move(path)) {}
    Unfinished(const Unfinished&) = delete;
    Unfinished& operator=(const Unfinished&) = delete;
    ~Unfinished() {
        if (!done_) {
            ::unlink(path_.c_str());
        }
    }
    void done() { done_ = true; }

private:
    std::string path_;
    bool done_ = false;
};

} // namespace

void write_file(const std::string& path, std::string_view bytes) {
    std::string name = path + ".XXXXXX";
    const int file = ::mkstemp(name.data());
    if (file < 0) {
        cannot_write(path, errno);
    }
    Unfinished unfinished(name);
    std::size_t written = 0;
    int error = ::fchmod(file, 0644) == 0 ? 0 : errno;
    while (error == 0 && written < bytes.size()) {
        const ssize_t n = ::write(file, bytes.data() + written, bytes.size() - written);
        if (n >= 0) {
            written += static_cast<std::size_t>(n);
        } else if (errno != EINTR) {
            error = errno;
        }
    }
    if (::close(file) != 0 && error == 0) {
        error = errno;
    }
    if (error == 0 && ::rename(name.c_str(), path.c_str()) != 0) {
        error = errno;
    }
    if (error != 0) {
        cannot_write(path, error);
    }
    unfinished.done();
}

} // namespace vast_turn
