#include "vast_turn/base/noise.hpp"

#include <cmath>

#include <doctest/doctest.h>

using namespace vast_turn;

TEST_CASE("a draw depends on seed, stream and index, and on nothing else") {
    const Draw first = random_draw(7, Stream::line_sensors, 3);
    CHECK(random_draw(7, Stream::line_sensors, 3) == first);
    CHECK(random_draw(8, Stream::line_sensors, 3) != first);
    CHECK(random_draw(7, Stream::line_sensors, 4) != first);
    CHECK(random_draw(7, Stream::line_sensors, 3 + (std::uint64_t{1} << 32U)) != first);
}

TEST_CASE("normal values have mean 0, deviation 1 and normal tails, in each of the eight numbers of a draw") {
    constexpr int draws = 60'000;
    const NormalQuantile& normal = NormalQuantile::table();
    for (std::size_t part = 0; part < 8; ++part) {
        CAPTURE(part);
        double sum = 0.0;
        double squares = 0.0;
        int beyond_two = 0;
        for (int i = 0; i < draws; ++i) {
            const double x = normal(random_draw(11, Stream::line_sensors, static_cast<std::uint64_t>(i))[part]);
            sum += x;
            squares += x * x;
            beyond_two += std::abs(x) > 2.0 ? 1 : 0;
        }
        CHECK(std::abs(sum / draws) < 0.016);
        CHECK(squares / draws == doctest::Approx(1.0).epsilon(0.025));
        CHECK(beyond_two == doctest::Approx(0.0455 * draws).epsilon(0.08));
    }
}

TEST_CASE("the numbers of a draw are independent of one another") {
    constexpr int draws = 40'000;
    const NormalQuantile& normal = NormalQuantile::table();
    for (std::size_t part = 1; part < 8; ++part) {
        double product = 0.0;
        for (int i = 0; i < draws; ++i) {
            const Draw draw = random_draw(3, Stream::line_sensors, static_cast<std::uint64_t>(i));
            product += normal(draw[0]) * normal(draw[part]);
        }
        CHECK(std::abs(product / draws) < 0.02);
    }
}

TEST_CASE("the quantile is the inverse of the normal distribution, rises and is symmetric") {
    const NormalQuantile& normal = NormalQuantile::table();
    for (unsigned bits = 0; bits < 65536; bits += 4) {
        const double x = normal(static_cast<std::uint16_t>(bits));
        const double p = 0.5 * std::erfc(-x / std::sqrt(2.0));
        REQUIRE(p == doctest::Approx((bits + 2.0) / 65536.0).epsilon(1e-5));
        REQUIRE((bits == 0 || x > normal(static_cast<std::uint16_t>(bits - 4))));
        REQUIRE(x == -normal(static_cast<std::uint16_t>(65535 - bits)));
    }
    CHECK(normal(65535) < 4.1);
}
