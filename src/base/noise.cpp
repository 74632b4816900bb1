#include "vast_turn/base/noise.hpp"

#include <cstddef>

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
