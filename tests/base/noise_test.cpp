#include "vast_turn/base/noise.hpp"

#include <cmath>
#include <vector>

#include <boost/math/special_functions/erf.hpp>
#include <doctest/doctest.h>

using namespace vast_turn;

TEST_CASE("a draw depends on seed, stream, index and part, and on nothing else") {
    const auto first = random_bits(7, Stream::line_sensors, 3);
    CHECK(random_bits(7, Stream::line_sensors, 3) == first);
    CHECK(random_bits(8, Stream::line_sensors, 3) != first);
    CHECK(random_bits(7, Stream::line_sensors, 4) != first);
    CHECK(random_bits(7, Stream::line_sensors, 3, 1) != first);
}

TEST_CASE("normal values have mean 0, deviation 1 and normal tails") {
    constexpr int draws = 400'000;
    double sum = 0.0;
    double squares = 0.0;
    int beyond_two = 0;
    int beyond_three = 0;
    for (int i = 0; i < draws / 4; ++i) {
        for (const std::uint32_t bits : random_bits(11, Stream::line_sensors, static_cast<std::uint64_t>(i))) {
            const double x = normal_from(bits);
            sum += x;
            squares += x * x;
            beyond_two += std::abs(x) > 2.0 ? 1 : 0;
            beyond_three += std::abs(x) > 3.0 ? 1 : 0;
        }
    }
    CHECK(std::abs(sum / draws) < 0.006);
    CHECK(squares / draws == doctest::Approx(1.0).epsilon(0.01));
    CHECK(beyond_two == doctest::Approx(0.0455 * draws).epsilon(0.03));
    CHECK(beyond_three == doctest::Approx(0.0027 * draws).epsilon(0.12));
}

TEST_CASE("normal values follow the exact quantile closely and never fall") {
    double last = -10.0;
    for (std::uint64_t i = 0; i < 4096; ++i) {
        const auto bits = static_cast<std::uint32_t>(i * 1048576U + 524288U);
        const double x = normal_from(bits);
        const double p = (static_cast<double>(bits) + 0.5) / 4294967296.0;
        CHECK(std::abs(x + std::sqrt(2.0) * boost::math::erfc_inv(2.0 * p)) < 0.001);
        CHECK(x > last);
        last = x;
    }
    CHECK(std::isfinite(normal_from(0)));
    CHECK(std::isfinite(normal_from(0xFFFFFFFFU)));
}
