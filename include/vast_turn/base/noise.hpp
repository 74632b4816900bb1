#pragma once

/// Random numbers that depend only on where they are asked for, not on when.
///
/// A draw is a pure function of (seed, stream, index), by the counter-based generator Philox4x32-7
/// (Salmon, Moraes, Dror, Shaw: "Parallel random numbers: as easy as 1, 2, 3", 2011,
/// whose seven rounds pass all of its tests). So the same
/// seed gives the same run, byte for byte, on any number of threads and in any order.

#include <array>
#include <cstdint>
#include <vector>

namespace vast_turn {

/// What a draw is for. Two streams of one seed are independent.
enum class Stream : std::uint32_t {
    line_sensors = 1,
    bench_hand = 2,
    colour_sensor = 3,
    start_pose = 4,
    pieces = 5,
    days = 6,
    looks = 7,
    outside_light = 8,
    tape_place = 9,
    tape_ends = 10,
    plates_place = 11,
    sweep = 12,
    cable = 13,
    late_loop = 14,
    log_way = 15
};

/// 128 independent uniform bits, as eight 16-bit numbers.
using Draw = std::array<std::uint16_t, 8>;
Draw random_draw(std::uint64_t seed, Stream stream, std::uint64_t index);

/// How many draws random_draws() makes at once.
inline constexpr std::size_t draws_at_once = 16;

/// The same draws of several seeds at once, each at an index of its own: number `n` of draw `k` is
/// (out[n / 2][k] >> 16 * (n % 2)) & 0xFFFF.
void random_draws(const std::array<std::uint64_t, draws_at_once>& seeds, Stream stream,
                  const std::array<std::uint64_t, draws_at_once>& indexes,
                  std::array<std::array<std::uint32_t, draws_at_once>, 4>& out);

/// Standard normal values (mean 0, standard deviation 1) from uniform 16-bit numbers: the normal
/// quantile in the middle of each of 16,384 equal parts (the lowest two bits do not count). So values
/// lie 0.00015 apart where they are most frequent, and the largest is 4.0: fine enough for noise that
/// ends up as counts, and small enough to stay in the processor's cache.
class NormalQuantile {
public:
    /// The one table; made at the first call, which any thread may do.
    static const NormalQuantile& table();

    double operator()(std::uint16_t bits) const { return static_cast<double>(values_[bits >> 2U]); }

    /// The value of the part of this number: that of bits / 4.
    float of_part(std::size_t part) const { return values_[part]; }

private:
    NormalQuantile();

    std::vector<float> values_;
};

} // namespace vast_turn
