#pragma once

/// Work on input that nobody trusts, in a process of its own that can do no harm.

#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

/// What the work may take.
struct CageLimits {
    int cpu_s = 6;
    std::size_t memory = std::size_t{1536} << 20U; ///< beyond what the process has when it begins
    std::size_t largest_answer = std::size_t{512} << 20U;
};

/// Does `work` in a child process and gives what it returned. The child starts no program, opens no connection, writes,
/// renames and removes no file (seccomp), and is ended when it takes more than its limits, or six times as long by the
/// clock as it may compute. An InputError that the work throws is thrown here. Whatever else happens to it, a crash, an
/// abort, too much of anything, becomes an InputError about `file` with this cure.
///
/// The child is a copy of this process, in which no other thread goes on: the work must not wait for any.
std::string in_cage(const std::string& file, const std::string& cure, const std::function<std::string()>& work,
                    const CageLimits& limits = {});

/// Problems as bytes, for the way out of a cage, and back: file, line and words; columns and source lines stay behind.
std::string packed(const std::vector<Problem>& problems);
std::vector<Problem> unpacked(std::string_view bytes);

} // namespace vast_turn
