#pragma once

/// How often tests repeat random work.

#include <cstdlib>
#include <string>

/// What the address sanitizer brings along, where it is there.
extern "C" void __asan_init() __attribute__((weak)); // NOLINT(bugprone-reserved-identifier)

namespace fixtures {

/// Whether the library is looked at by the sanitizers. Asked when it runs: the tests are compiled once for both.
inline bool sanitized() { return __asan_init != nullptr; }

/// All rounds with VTURN_ROUNDS=all in the environment, else the usual number; fewer under the sanitizers, where it is
/// memory that is looked at and each takes several times as long.
inline int rounds(int all, int usual, int under_sanitizers) {
    const char* wanted = std::getenv("VTURN_ROUNDS");
    return wanted != nullptr && std::string(wanted) == "all" ? all : (sanitized() ? under_sanitizers : usual);
}

} // namespace fixtures
