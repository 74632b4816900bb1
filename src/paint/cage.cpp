#include "paint/cage.hpp"

#include <array>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstddef>
#include <cstdint>
#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <linux/filter.h>
#include <linux/seccomp.h>
#include <new>
#include <poll.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>
#include <vector>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

/// How the child says what came of it: the first byte of its answer.
enum Outcome : char { done = 'd', refused = 'r', no_memory = 'm' };

/// Calls of the system that work on a drawing has no need of. They fail as if it had no right to them.
constexpr unsigned forbidden[] = {
#if defined(SYS_open) // the older half of them, which newer machines do not have
    SYS_open,
    SYS_creat,
    SYS_fork,
    SYS_vfork,
    SYS_unlink,
    SYS_rename,
    SYS_link,
    SYS_symlink,
    SYS_mkdir,
    SYS_rmdir,
    SYS_chmod,
    SYS_chown,
    SYS_mknod,
#endif
    SYS_openat2,
    SYS_io_uring_setup,
    SYS_socket,
    SYS_socketpair,
    SYS_connect,
    SYS_bind,
    SYS_listen,
    SYS_accept,
    SYS_accept4,
    SYS_sendto,
    SYS_sendmsg,
    SYS_execve,
    SYS_execveat,
    SYS_kill,
    SYS_tkill,
    SYS_ptrace,
    SYS_process_vm_writev,
    SYS_unlinkat,
    SYS_renameat,
    SYS_renameat2,
    SYS_linkat,
    SYS_symlinkat,
    SYS_mkdirat,
    SYS_fchmodat,
    SYS_fchownat,
    SYS_mknodat,
    SYS_truncate,
    SYS_mount,
    SYS_setuid};

/// Forbids those calls, and opening files to write. Where the kernel knows no such filters there are the limits alone.
void forbid_calls() {
    constexpr auto number_at = static_cast<std::uint32_t>(offsetof(seccomp_data, nr));
    constexpr auto flags_at = static_cast<std::uint32_t>(offsetof(seccomp_data, args) + 2 * sizeof(std::uint64_t));
    constexpr std::uint32_t no_right = SECCOMP_RET_ERRNO | EPERM;
    const auto step = [](int code, std::uint32_t k, int yes = 0, int no = 0) {
        return sock_filter{static_cast<std::uint16_t>(code), static_cast<std::uint8_t>(yes),
                           static_cast<std::uint8_t>(no), k};
    };
    std::vector<sock_filter> program{step(BPF_LD | BPF_W | BPF_ABS, number_at)};
    for (const unsigned call : forbidden) {
        program.push_back(step(BPF_JMP | BPF_JEQ | BPF_K, call, 0, 1));
        program.push_back(step(BPF_RET | BPF_K, no_right));
    }
    program.push_back(step(BPF_JMP | BPF_JEQ | BPF_K, SYS_openat, 0, 3));
    program.push_back(step(BPF_LD | BPF_W | BPF_ABS, flags_at));
    program.push_back(step(BPF_JMP | BPF_JSET | BPF_K, O_WRONLY | O_RDWR | O_CREAT, 0, 1));
    program.push_back(step(BPF_RET | BPF_K, no_right));
    program.push_back(step(BPF_RET | BPF_K, SECCOMP_RET_ALLOW));
    const sock_fprog whole{static_cast<unsigned short>(program.size()), program.data()};
    prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0);
    prctl(PR_SET_SECCOMP, SECCOMP_MODE_FILTER, &whole);
}

void limit(int what, std::size_t most) {
    const rlimit both{static_cast<rlim_t>(most), static_cast<rlim_t>(most)};
    setrlimit(static_cast<__rlimit_resource_t>(what), &both);
}

/// Bytes of address space that this process has.
std::size_t own_size() {
    std::size_t pages = 0;
    if (std::FILE* file = std::fopen("/proc/self/statm", "r")) {
        if (std::fscanf(file, "%zu", &pages) != 1) { // NOLINT(cert-err34-c): of the kernel
            pages = 0;
        }
        std::fclose(file);
    }
    return pages * static_cast<std::size_t>(sysconf(_SC_PAGESIZE));
}

void lock_in(const CageLimits& limits) {
    for (int signal = 1; signal < NSIG; ++signal) {
        std::signal(signal, SIG_DFL);
    }
    sigset_t none;
    sigemptyset(&none);
    sigprocmask(SIG_SETMASK, &none, nullptr);
    prctl(PR_SET_PDEATHSIG, SIGKILL);
    const int nowhere = ::open("/dev/null", O_RDWR); // libraries print when they give up
    ::dup2(nowhere, STDOUT_FILENO);
    ::dup2(nowhere, STDERR_FILENO);
    limit(RLIMIT_CORE, 0);
    limit(RLIMIT_CPU, static_cast<std::size_t>(limits.cpu_s));
    limit(RLIMIT_FSIZE, 0);
    constexpr std::size_t files = 64;
    limit(RLIMIT_NOFILE, files);
#if defined(VAST_TURN_SANITIZED)
    constexpr bool may_be_limited = false; // the sanitizers reserve more than there is
#else
    constexpr bool may_be_limited = true;
#endif
    if (may_be_limited) {
        limit(RLIMIT_AS, own_size() + limits.memory);
    }
    forbid_calls();
}

void append(std::string& to, const std::string& text) { to += fmt::format("{}:", text.size()) + text; }

std::string take(std::string_view& from) {
    std::size_t size = 0;
    while (!from.empty() && from.front() != ':') {
        size = 10 * size + static_cast<std::size_t>(from.front() - '0');
        from.remove_prefix(1);
    }
    std::string text(from.substr(1, size));
    from.remove_prefix(1 + size);
    return text;
}

std::string answer_of(const std::function<std::string()>& work) {
    try {
        return std::string(1, done) + work();
    } catch (const InputError& error) {
        return std::string(1, refused) + packed(error.problems());
    } catch (const std::bad_alloc&) {
        return std::string(1, no_memory);
    }
}

[[noreturn]] void live_in_cage(int to, const std::function<std::string()>& work, const CageLimits& limits) {
    lock_in(limits);
    const std::string answer = answer_of(work);
    std::string_view rest = answer;
    while (!rest.empty()) {
        const ssize_t n = ::write(to, rest.data(), rest.size());
        if (n <= 0) {
            break;
        }
        rest.remove_prefix(static_cast<std::size_t>(n));
    }
    ::_exit(rest.empty() ? 0 : 1);
}

/// Reads until the child has said all, or the time is over.
std::string heard_from(int from, std::chrono::steady_clock::time_point until, std::size_t largest, bool& in_time) {
    std::string all;
    std::vector<char> piece(std::size_t{1} << 16U);
    while (true) {
        const auto left =
            std::chrono::duration_cast<std::chrono::milliseconds>(until - std::chrono::steady_clock::now());
        pollfd ready{from, POLLIN, 0};
        const int polled = ::poll(&ready, 1, static_cast<int>(std::max<std::int64_t>(0, left.count())));
        if (polled < 0 && errno == EINTR) {
            continue;
        }
        in_time = polled > 0;
        const ssize_t n = polled > 0 ? ::read(from, piece.data(), piece.size()) : 0;
        if (n <= 0 || all.size() > largest) {
            return all;
        }
        all.append(piece.data(), static_cast<std::size_t>(n));
    }
}

std::string why_it_ended(int status, bool in_time, int cpu_s) {
    if (!in_time || (WIFSIGNALED(status) && (WTERMSIG(status) == SIGXCPU || WTERMSIG(status) == SIGKILL))) {
        return fmt::format("it takes longer than {} s", cpu_s);
    }
    return WIFSIGNALED(status) ? fmt::format("what draws it gave up (signal {})", WTERMSIG(status))
                               : "what draws it gave up";
}

} // namespace

std::string packed(const std::vector<Problem>& problems) {
    std::string all;
    for (const Problem& problem : problems) {
        all += problem.severity == Severity::error ? 'e' : 'w';
        append(all, problem.place.file);
        append(all, std::to_string(problem.place.line));
        append(all, problem.message);
        append(all, problem.cure);
    }
    return all;
}

std::vector<Problem> unpacked(std::string_view all) {
    std::vector<Problem> problems;
    while (!all.empty()) {
        Problem problem;
        problem.severity = all.front() == 'e' ? Severity::error : Severity::warning;
        all.remove_prefix(1);
        problem.place.file = take(all);
        problem.place.line = std::stoi(take(all));
        problem.message = take(all);
        problem.cure = take(all);
        problems.push_back(std::move(problem));
    }
    return problems;
}

std::string in_cage(const std::string& file, const std::string& cure, const std::function<std::string()>& work,
                    const CageLimits& limits) {
    std::array<int, 2> ends{};
    if (::pipe2(ends.data(), O_CLOEXEC) != 0) {
        throw InputError(file, fmt::format("cannot be drawn in a process of its own: {}", std::strerror(errno)), cure);
    }
    const pid_t child = ::fork();
    if (child == 0) {
        ::close(ends[0]);
        live_in_cage(ends[1], work, limits);
    }
    ::close(ends[1]);
    if (child < 0) {
        ::close(ends[0]);
        throw InputError(file, fmt::format("cannot be drawn in a process of its own: {}", std::strerror(errno)), cure);
    }
    bool in_time = true;
    const auto until = std::chrono::steady_clock::now() + std::chrono::seconds(6 * limits.cpu_s);
    const std::string answer = heard_from(ends[0], until, limits.largest_answer, in_time);
    ::close(ends[0]);
    if (!in_time) {
        ::kill(child, SIGKILL);
    }
    int status = 0;
    while (::waitpid(child, &status, 0) < 0 && errno == EINTR) {
    }
    const bool whole = in_time && WIFEXITED(status) && WEXITSTATUS(status) == 0 && !answer.empty();
    if (whole && answer[0] == done) {
        return answer.substr(1);
    }
    if (whole && answer[0] == refused) {
        throw InputError(unpacked(std::string_view(answer).substr(1)));
    }
    if (whole && answer[0] == no_memory) {
        throw InputError(file, "it takes more memory than a drawing may", cure);
    }
    throw InputError(file, "it cannot be drawn: " + why_it_ended(status, in_time, limits.cpu_s), cure);
}

} // namespace vast_turn
