#include "vast_turn/formats/write/text_file.hpp"

#include <array>
#include <cerrno>
#include <climits>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <memory>
#include <random>
#include <sys/stat.h>
#include <unistd.h>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

[[noreturn]] void cannot_write(const std::string& path, const std::string& why) {
    throw InputError(path, "cannot be written: " + why, "check the folder and its permissions, or write elsewhere");
}

[[noreturn]] void cannot_write(const std::string& path, int error) { cannot_write(path, std::strerror(error)); }

/// A file that is open; closed at the end whatever happens.
class Open {
public:
    explicit Open(int file) : file_(file) {}
    Open(const Open&) = delete;
    Open& operator=(const Open&) = delete;
    ~Open() {
        if (file_ >= 0) {
            ::close(file_);
        }
    }
    int operator*() const { return file_; }
    /// 0, or what went wrong: some file systems tell of a full disk only now.
    int close() { return ::close(std::exchange(file_, -1)) == 0 ? 0 : errno; }

private:
    int file_;
};

/// While it lives, signals that would end the program wait: nothing is left behind by halves.
class SignalsWait {
public:
    SignalsWait() {
        sigset_t all;
        sigfillset(&all);
        pthread_sigmask(SIG_BLOCK, &all, &before_);
    }
    SignalsWait(const SignalsWait&) = delete;
    SignalsWait& operator=(const SignalsWait&) = delete;
    ~SignalsWait() { pthread_sigmask(SIG_SETMASK, &before_, nullptr); }

    /// Whether one of those that end programs came meanwhile.
    bool ending() const {
        sigset_t waiting;
        sigpending(&waiting);
        for (const int signal : {SIGINT, SIGTERM, SIGHUP, SIGQUIT}) {
            if (sigismember(&waiting, signal) == 1 && sigismember(&before_, signal) == 0) {
                return true;
            }
        }
        return false;
    }

    /// A reader that went away is an error of the write, not a reason to die: takes that signal away.
    static void forget_broken_pipe() {
        sigset_t pipe;
        sigemptyset(&pipe);
        sigaddset(&pipe, SIGPIPE);
        const timespec at_once{0, 0};
        sigtimedwait(&pipe, nullptr, &at_once);
    }

private:
    sigset_t before_{};
};

std::string folder_of(const std::string& path) {
    const std::size_t slash = path.rfind('/');
    return slash == std::string::npos ? "." : slash == 0 ? "/" : path.substr(0, slash);
}

/// Whether a path is an open file of a process, which a name like /dev/stdout leads to.
bool is_open_file(const std::string& path) {
    const std::unique_ptr<char, decltype(&std::free)> real(::realpath(folder_of(path).c_str(), nullptr), &std::free);
    return real != nullptr && std::string_view(real.get()).starts_with("/proc/");
}

/// Where a path leads over symbolic links, also when nothing is there yet.
std::string followed(std::string path) {
    constexpr int most_links = 40;
    const std::string asked = path;
    for (int i = 0; i < most_links && !is_open_file(path); ++i) {
        std::array<char, PATH_MAX> link{};
        const ssize_t size = ::readlink(path.c_str(), link.data(), link.size());
        if (size < 0) {
            return path;
        }
        const std::string to(link.data(), static_cast<std::size_t>(size));
        path = to.starts_with('/') ? to : fmt::format("{}/{}", folder_of(path), to);
    }
    if (!is_open_file(path)) {
        cannot_write(asked, ELOOP);
    }
    return path;
}

/// Writes all bytes; 0, or what went wrong. `stop` is asked between pieces; EINTR when it says so.
template <class Stop> int write_all(int file, std::string_view bytes, Stop stop) {
    constexpr std::size_t piece = std::size_t{1} << 20U;
    while (!bytes.empty()) {
        if (stop()) {
            return EINTR;
        }
        const ssize_t n = ::write(file, bytes.data(), std::min(piece, bytes.size()));
        if (n >= 0) {
            bytes.remove_prefix(static_cast<std::size_t>(n));
        } else if (errno != EINTR) {
            return errno;
        }
    }
    return 0;
}

/// A device, a pipe or an open file: there is no whole or not at all, the bytes go there.
void write_through(const std::string& path, std::string_view bytes) {
    Open file(::open(path.c_str(), O_WRONLY | O_CLOEXEC | O_NOCTTY));
    if (*file < 0) {
        cannot_write(path, errno);
    }
    int error = 0;
    {
        sigset_t pipe;
        sigset_t before;
        sigemptyset(&pipe);
        sigaddset(&pipe, SIGPIPE);
        pthread_sigmask(SIG_BLOCK, &pipe, &before);
        error = write_all(*file, bytes, [] { return false; });
        if (error == EPIPE) {
            SignalsWait::forget_broken_pipe();
        }
        pthread_sigmask(SIG_SETMASK, &before, nullptr);
    }
    const int at_end = file.close();
    if (error != 0 || at_end != 0) {
        cannot_write(path, error != 0 ? error : at_end);
    }
}

/// A name in a folder that nobody has.
std::string new_name(const std::string& folder) {
    std::random_device device;
    return fmt::format("{}/.unfinished-{:08x}{:08x}", folder, device(), device());
}

/// Writes a regular file whole: into one without a name, which then takes the name. Where the file system has none
/// without names, into one beside it.
class WholeFile {
public:
    WholeFile(const std::string& path, const struct stat* old) : path_(path), folder_(folder_of(path)), old_(old) {}

    /// 0, or what went wrong; then nothing has changed and nothing is left.
    int write(std::string_view bytes) {
        Open file(::open(folder_.c_str(), O_TMPFILE | O_WRONLY | O_CLOEXEC, first_mode()));
        if (*file < 0) {
            return write_named(bytes);
        }
        int error = own(*file);
        error = error != 0 ? error : write_all(*file, bytes, [] { return false; });
        if (error != 0) {
            return error;
        }
        const SignalsWait wait;
        const std::string open_file = fmt::format("/proc/self/fd/{}", *file);
        const auto give_name = [&](const std::string& name) {
            return ::linkat(AT_FDCWD, open_file.c_str(), AT_FDCWD, name.c_str(), AT_SYMLINK_FOLLOW) == 0 ? 0 : errno;
        };
        error = old_ == nullptr ? give_name(path_) : EEXIST;
        if (error == EEXIST) { // a name can only be taken over by another one
            const std::string name = new_name(folder_);
            error = give_name(name);
            error = error != 0 ? error : take_over(name);
        }
        return error == ENOENT ? write_named(bytes) : error; // no /proc
    }

private:
    mode_t first_mode() const { return old_ == nullptr ? 0666 : 0600; }

    /// Owner and mode of the file that it takes the place of.
    int own(int file) const {
        if (old_ == nullptr) {
            return 0;
        }
        struct stat made {};
        if (::fstat(file, &made) != 0) {
            return errno;
        }
        const bool same = made.st_uid == old_->st_uid && made.st_gid == old_->st_gid;
        if (!same && ::fchown(file, old_->st_uid, old_->st_gid) != 0) {
            return errno;
        }
        return ::fchmod(file, old_->st_mode & 07777U) == 0 ? 0 : errno;
    }

    int take_over(const std::string& name) const {
        if (::rename(name.c_str(), path_.c_str()) == 0) {
            return 0;
        }
        const int error = errno;
        ::unlink(name.c_str());
        return error;
    }

    int write_named(std::string_view bytes) const {
        const SignalsWait wait;
        const std::string name = new_name(folder_);
        Open file(::open(name.c_str(), O_CREAT | O_EXCL | O_WRONLY | O_CLOEXEC, first_mode()));
        if (*file < 0) {
            return errno;
        }
        int error = own(*file);
        error = error != 0 ? error : write_all(*file, bytes, [&] { return wait.ending(); });
        const int at_end = file.close();
        error = error != 0 ? error : at_end;
        if (error != 0) {
            ::unlink(name.c_str());
            return error;
        }
        return take_over(name);
    }

    const std::string& path_;
    std::string folder_;
    const struct stat* old_;
};

} // namespace

void write_file(const std::string& path, std::string_view bytes) {
    const std::string target = followed(path);
    struct stat there {};
    const bool exists = ::stat(target.c_str(), &there) == 0;
    if (!exists && errno != ENOENT) {
        cannot_write(path, errno);
    }
    if (exists && S_ISDIR(there.st_mode)) {
        cannot_write(path, "it is a folder");
    }
    if (exists && (!S_ISREG(there.st_mode) || is_open_file(target))) {
        return write_through(target, bytes);
    }
    constexpr mode_t writable = 0222;
    if (exists && ((there.st_mode & writable) == 0 || ::faccessat(AT_FDCWD, target.c_str(), W_OK, AT_EACCESS) != 0)) {
        cannot_write(path, "it may not be written");
    }
    const int error = WholeFile(target, exists ? &there : nullptr).write(bytes);
    if (error == EPERM && exists) {
        cannot_write(path, "it belongs to somebody else, and only they could replace it and keep it theirs");
    }
    if (error != 0) {
        cannot_write(path, error);
    }
}

} // namespace vast_turn
