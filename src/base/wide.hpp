#pragma once

/// The same for several side by side, in loops that a compiler turns into vector instructions.

#include <array>
#include <cstddef>

// On machines of this kind a function with it is compiled for several generations of them, and the best that there is
// is taken when the program starts. All give the same bits: none joins a product and a sum into one rounding.
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(__SANITIZE_THREAD__)
#define VAST_TURN_WIDE __attribute__((target_clones("avx512f", "avx2", "default")))
// In front of a loop over lanes: none reads what another writes.
#define VAST_TURN_EACH_LANE _Pragma("GCC ivdep")
#else
#define VAST_TURN_WIDE
#define VAST_TURN_EACH_LANE
#endif

namespace vast_turn {

/// So many go side by side.
inline constexpr std::size_t lanes_wide = 16;

/// One number of each.
template <class T> struct alignas(64) Wide : std::array<T, lanes_wide> {};

} // namespace vast_turn
