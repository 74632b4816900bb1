#include "vast_turn/base/noise.hpp"

#include <Random123/philox.h>
#include <boost/math/special_functions/erf.hpp>

namespace vast_turn {

namespace {

double quantile(double p) {
    constexpr double root_two = 1.4142135623730951;
    using InDouble = boost::math::policies::policy<boost::math::policies::promote_double<false>>;
    return -root_two * boost::math::erfc_inv(2.0 * p, InDouble());
}

} // namespace

std::array<std::uint32_t, 4> random_bits(std::uint64_t seed, Stream stream, std::uint64_t index, std::uint32_t part) {
    using Generator = r123::Philox4x32_R<7>;
    const Generator::ctr_type counter{{static_cast<std::uint32_t>(index), static_cast<std::uint32_t>(index >> 32U),
                                       part, static_cast<std::uint32_t>(stream)}};
    const Generator::key_type key{{static_cast<std::uint32_t>(seed), static_cast<std::uint32_t>(seed >> 32U)}};
    const Generator::ctr_type drawn = Generator{}(counter, key);
    return {drawn[0], drawn[1], drawn[2], drawn[3]};
}

NormalQuantile::NormalQuantile() {
    for (std::uint32_t i = 1; i < cells; ++i) { // the two outermost borders are infinite and never read
        borders_[i] = quantile(static_cast<double>(i) / static_cast<double>(cells));
    }
}

const NormalQuantile& NormalQuantile::table() {
    static const NormalQuantile made;
    return made;
}

double NormalQuantile::exact(std::uint32_t bits) { return quantile((static_cast<double>(bits) + 0.5) / 4294967296.0); }

} // namespace vast_turn
