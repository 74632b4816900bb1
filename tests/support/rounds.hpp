#pragma once

/// How often tests repeat random work.

#include <cstdlib>
#include <string>

namespace fixtures {

#if defined(VAST_TURN_SANITIZED)
inline constexpr bool sanitized = true;
#else
inline constexpr bool sanitized = false;
#endif

/// All rounds with VTURN_ROUNDS=all in the environment, else the usual number; fewer under the sanitizers, where it is
/// memory that is looked at and each takes several times as long.
inline int rounds(int all, int usual, int under_sanitizers) {
    const char* wanted = std::getenv("VTURN_ROUNDS");
    return wanted != nullptr && std::string(wanted) == "all" ? all : (sanitized ? under_sanitizers : usual);
}

} // namespace fixtures
