#pragma once

/// Random numbers that depend only on where they are asked for, not on when.
///
/// A draw is a pure function of (seed, stream, index), by the counter-based generator Philox4x32-10
/// (Salmon, Moraes, Dror, Shaw: "Parallel random numbers: as easy as 1, 2, 3", 2011). So the same
/// seed gives the same run, byte for byte, on any number of threads and in any order.

#include <array>
#include <cstdint>

namespace vast_turn {

/// What a draw is for. Two streams of one seed are independent.
enum class Stream : std::uint32_t { line_sensors = 1 };

/// Four independent 32-bit numbers, uniform.
std::array<std::uint32_t, 4> random_bits(std::uint64_t seed, Stream stream, std::uint64_t index,
                                         std::uint32_t part = 0);

/// A standard normal value (mean 0, standard deviation 1) from one uniform 32-bit number: the
/// normal quantile, interpolated in a table (off by less than 0.001) and computed in full in the
/// tails, where the table would be too coarse. Monotonic in `bits`; at most about 6.3 in size.
double normal_from(std::uint32_t bits);

} // namespace vast_turn
