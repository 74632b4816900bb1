#pragma once

/// Random numbers that depend only on where they are asked for, not on when.
///
/// A draw is a pure function of (seed, stream, index), by the counter-based generator Philox4x32-7
/// (Salmon, Moraes, Dror, Shaw: "Parallel random numbers: as easy as 1, 2, 3", 2011,
/// whose seven rounds pass all of its tests). So the same
/// seed gives the same run, byte for byte, on any number of threads and in any order.

#include <array>
#include <cstdint>

namespace vast_turn {

/// What a draw is for. Two streams of one seed are independent.
enum class Stream : std::uint32_t { line_sensors = 1 };

/// Four independent 32-bit numbers, uniform.
std::array<std::uint32_t, 4> random_bits(std::uint64_t seed, Stream stream, std::uint64_t index,
                                         std::uint32_t part = 0);

/// Standard normal values (mean 0, standard deviation 1) from uniform 32-bit numbers: the normal
/// quantile, interpolated in a table (off by less than 0.001) and computed in full in the tails,
/// where the table would be too coarse. Monotonic; at most about 6.3 in size.
class NormalQuantile {
public:
    /// The one table; made at the first call, which any thread may do.
    static const NormalQuantile& table();

    double operator()(std::uint32_t bits) const {
        const std::uint32_t cell = bits >> rest_bits;
        if (cell - exact_cells >= cells - 2 * exact_cells) {
            return exact(bits);
        }
        constexpr std::uint32_t rest_mask = (std::uint32_t{1} << rest_bits) - 1U;
        const double part = (static_cast<double>(static_cast<int>(bits & rest_mask)) + 0.5) * (1.0 / (rest_mask + 1.0));
        return borders_[cell] + part * (borders_[cell + 1] - borders_[cell]);
    }

private:
    NormalQuantile();
    static double exact(std::uint32_t bits);

    static constexpr unsigned table_bits = 11;
    static constexpr std::uint32_t cells = std::uint32_t{1} << table_bits;
    static constexpr unsigned rest_bits = 32 - table_bits;
    static constexpr std::uint32_t exact_cells = 8; // at either end
    std::array<double, cells + 1> borders_{};
};

/// The same as one call.
inline double normal_from(std::uint32_t bits) { return NormalQuantile::table()(bits); }

} // namespace vast_turn
