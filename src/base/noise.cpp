#include "vast_turn/base/noise.hpp"

#include <cstddef>

#include <Random123/philox.h>
#include <boost/math/special_functions/erf.hpp>

namespace vast_turn {

namespace {

constexpr unsigned table_bits = 11;
constexpr std::size_t cells = std::size_t{1} << table_bits;
constexpr std::size_t exact_cells = 8; // at either end, where the quantile bends too much for the table
constexpr unsigned rest_bits = 32 - table_bits;
constexpr double root_two = 1.4142135623730951;

double quantile(double p) { return -root_two * boost::math::erfc_inv(2.0 * p); }

/// Quantiles at the cell borders; the two outermost are infinite and never read.
std::array<double, cells + 1> make_table() {
    std::array<double, cells + 1> table{};
    for (std::size_t i = 1; i < cells; ++i) {
        table[i] = quantile(static_cast<double>(i) / static_cast<double>(cells));
    }
    return table;
}

} // namespace

std::array<std::uint32_t, 4> random_bits(std::uint64_t seed, Stream stream, std::uint64_t index, std::uint32_t part) {
    using Generator = r123::Philox4x32;
    const Generator::ctr_type counter{{static_cast<std::uint32_t>(index), static_cast<std::uint32_t>(index >> 32U),
                                       part, static_cast<std::uint32_t>(stream)}};
    const Generator::key_type key{{static_cast<std::uint32_t>(seed), static_cast<std::uint32_t>(seed >> 32U)}};
    const Generator::ctr_type drawn = Generator{}(counter, key);
    return {drawn[0], drawn[1], drawn[2], drawn[3]};
}

double normal_from(std::uint32_t bits) {
    static const std::array<double, cells + 1> table = make_table();
    const std::size_t cell = bits >> rest_bits;
    constexpr std::uint32_t rest_mask = (std::uint32_t{1} << rest_bits) - 1U;
    if (cell < exact_cells || cell >= cells - exact_cells) {
        return quantile((static_cast<double>(bits) + 0.5) / 4294967296.0);
    }
    const double part = (static_cast<double>(bits & rest_mask) + 0.5) / static_cast<double>(rest_mask + 1U);
    return table[cell] + part * (table[cell + 1] - table[cell]);
}

} // namespace vast_turn
