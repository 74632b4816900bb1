#include "vast_turn/base/noise.hpp"

#include <cmath>
#include <cstddef>

#include <Random123/philox.h>

#include "base/wide.hpp"

namespace vast_turn {

namespace {

/// The x below which a standard normal value lies with probability p, 0 < p < 0.5: by Newton's method on the
/// distribution's own function, from its asymptote.
double quantile(double p) {
    constexpr double root_half = 0.70710678118654752;
    constexpr double one_by_root_two_pi = 0.39894228040143268;
    double x = -std::sqrt(-2.0 * std::log(2.0 * p));
    for (int i = 0; i < 12; ++i) {
        const double off = 0.5 * std::erfc(-x * root_half) - p;
        const double density = one_by_root_two_pi * std::exp(-0.5 * x * x);
        x -= off / (density + 0.5 * x * off); // Halley's correction: it converges from afar
    }
    return x;
}

} // namespace

Draw random_draw(std::uint64_t seed, Stream stream, std::uint64_t index) {
    using Generator = r123::Philox4x32_R<7>;
    const Generator::ctr_type counter{{static_cast<std::uint32_t>(index), static_cast<std::uint32_t>(index >> 32U), 0,
                                       static_cast<std::uint32_t>(stream)}};
    const Generator::key_type key{{static_cast<std::uint32_t>(seed), static_cast<std::uint32_t>(seed >> 32U)}};
    const Generator::ctr_type drawn = Generator{}(counter, key);
    Draw draw{};
    for (std::size_t i = 0; i < draw.size(); ++i) {
        draw[i] = static_cast<std::uint16_t>(drawn[i / 2] >> (16U * (i % 2)));
    }
    return draw;
}

namespace {

using Words = std::array<std::uint32_t, draws_at_once>;

/// Counters and keys of Philox4x32.
struct Counters {
    std::array<Words, 4> c;
    Words k0;
    Words k1;
};

/// Its rounds, as the paper has them.
VAST_TURN_WIDE void philox(Counters& all) {
    constexpr int rounds = 7;
    for (int round = 0; round < rounds; ++round) {
        for (std::size_t i = 0; i < draws_at_once; ++i) {
            const std::uint64_t first = std::uint64_t{0xD2511F53} * all.c[0][i];
            const std::uint64_t second = std::uint64_t{0xCD9E8D57} * all.c[2][i];
            all.c[0][i] = static_cast<std::uint32_t>(second >> 32U) ^ all.c[1][i] ^ all.k0[i];
            all.c[1][i] = static_cast<std::uint32_t>(second);
            all.c[2][i] = static_cast<std::uint32_t>(first >> 32U) ^ all.c[3][i] ^ all.k1[i];
            all.c[3][i] = static_cast<std::uint32_t>(first);
            all.k0[i] += 0x9E3779B9U;
            all.k1[i] += 0xBB67AE85U;
        }
    }
}

} // namespace

void random_draws(const std::array<std::uint64_t, draws_at_once>& seeds, Stream stream,
                  const std::array<std::uint64_t, draws_at_once>& indexes, std::array<Words, 4>& out) {
    Counters all;
    for (std::size_t i = 0; i < draws_at_once; ++i) {
        all.c[0][i] = static_cast<std::uint32_t>(indexes[i]);
        all.c[1][i] = static_cast<std::uint32_t>(indexes[i] >> 32U);
        all.c[2][i] = 0;
        all.c[3][i] = static_cast<std::uint32_t>(stream);
        all.k0[i] = static_cast<std::uint32_t>(seeds[i]);
        all.k1[i] = static_cast<std::uint32_t>(seeds[i] >> 32U);
    }
    philox(all);
    out = all.c;
}

NormalQuantile::NormalQuantile() : values_(std::size_t{1} << 14U) {
    const std::size_t half = values_.size() / 2;
    for (std::size_t i = 0; i < half; ++i) {
        const double x = quantile((static_cast<double>(i) + 0.5) / static_cast<double>(values_.size()));
        values_[i] = static_cast<float>(x);
        values_[values_.size() - 1 - i] = static_cast<float>(-x);
    }
}

const NormalQuantile& NormalQuantile::table() {
    static const NormalQuantile made;
    return made;
}

} // namespace vast_turn
