#include "vast_turn/trial/sureness.hpp"

#include <cmath>
#include <random>

#include <doctest/doctest.h>

#include "support/rounds.hpp"

using namespace vast_turn;

namespace {

int count_true(std::mt19937& random, double share, int runs) {
    return std::binomial_distribution<int>(runs, share)(random);
}

} // namespace

TEST_CASE("bounds of a share: known values, and the ends") {
    const ShareBounds of = wilson(81, 263); // worked out by hand from the formula
    CHECK(of.low == doctest::Approx(0.25527).epsilon(1e-4));
    CHECK(of.high == doctest::Approx(0.36621).epsilon(1e-4));
    CHECK(wilson(0, 0).low == 0.0);
    CHECK(wilson(0, 0).high == 1.0);
    CHECK(wilson(30, 30).high == 1.0);
    CHECK(wilson(30, 30).low == doctest::Approx(0.8865).epsilon(1e-3));
    CHECK(wilson(0, 30).low == 0.0);
    CHECK(difference_of_shares(0, 0, 0).low == -1.0);
    CHECK(difference_of_shares(50, 0, 100).low > 0.3);
    CHECK(difference_of_shares(4, 5, 100).low < 0.0);
    CHECK(difference_of_shares(4, 5, 100).high > 0.0);
}

TEST_CASE("bounds of a share cover the true one in 95 of 100 known experiments") {
    std::mt19937 random(29);
    const int experiments = fixtures::rounds(100000, 6000, 1000);
    for (const double share : {0.5, 0.83, 0.95, 0.985}) {
        for (const int runs : {40, 200, 730}) {
            int covered = 0;
            for (int i = 0; i < experiments; ++i) {
                const ShareBounds bounds = wilson(static_cast<std::uint64_t>(count_true(random, share, runs)),
                                                  static_cast<std::uint64_t>(runs));
                covered += bounds.low <= share && share <= bounds.high ? 1 : 0;
            }
            CAPTURE(share);
            CAPTURE(runs);
            CHECK(covered > 0.92 * experiments); // a count is whole, so it wavers about 95
            CHECK(covered < 0.99 * experiments);
        }
    }
}

TEST_CASE("bounds of the difference of two plans over the same days cover it in 95 of 100 known experiments") {
    std::mt19937 random(31);
    const int experiments = fixtures::rounds(50000, 4000, 1000);
    int covered = 0;
    for (int i = 0; i < experiments; ++i) {
        constexpr int runs = 150;
        const int first = count_true(random, 0.11, runs);                 // with the first alone
        const int second = count_true(random, 0.04 / 0.89, runs - first); // with the second alone
        const ShareBounds bounds =
            difference_of_shares(static_cast<std::uint64_t>(first), static_cast<std::uint64_t>(second), runs);
        covered += bounds.low <= 0.07 && 0.07 <= bounds.high ? 1 : 0;
    }
    CHECK(covered > 0.935 * experiments);
    CHECK(covered < 0.975 * experiments);
}

TEST_CASE("the sequential test errs no more often than it says, and ends") {
    std::mt19937 random(37);
    const int experiments = fixtures::rounds(20000, 1500, 300);
    for (const double asked : {0.8, 0.97, 0.99}) {
        for (const bool good : {true, false}) {
            const double fails = good ? (1.0 - asked) / 4.0 : 1.0 - asked;
            std::bernoulli_distribution passes(1.0 - fails);
            int wrong = 0;
            double runs = 0.0;
            for (int i = 0; i < experiments; ++i) {
                SequentialTest test(asked);
                while (!test.decided()) {
                    test.take(passes(random));
                    runs += 1.0;
                }
                wrong += *test.decided() != good ? 1 : 0;
            }
            CAPTURE(asked);
            CAPTURE(good);
            CHECK(wrong <= (0.05 + 3.0 * 0.22 / std::sqrt(experiments)) * experiments);
            CHECK(runs / experiments < 8.0 / (1.0 - asked)); // a bounded number in the mean
        }
    }
    SequentialTest flawless(0.99);
    int taken = 0;
    while (!flawless.decided()) {
        flawless.take(true);
        ++taken;
    }
    CHECK(taken == 391);
    flawless.take(false);
    CHECK(flawless.decided() == std::optional(true)); // what was decided stays so
}
