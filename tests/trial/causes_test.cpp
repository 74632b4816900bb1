#include "vast_turn/trial/causes.hpp"

#include <cmath>
#include <random>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/robot/day.hpp"

using namespace vast_turn;

namespace {

double value_of(const std::vector<DayValue>& values, Quantity what) {
    for (const DayValue& one : values) {
        if (one.what == what) {
            return one.value;
        }
    }
    return 0.0;
}

/// Days of an ordinary robot of five sensors that fail by this rule, and two of a hundred for no reason at all.
template <class Fails> std::vector<DayOutcome> days_that_fail(std::uint64_t seed, std::uint64_t count, Fails fails) {
    static const Variation ordinary = load_days("data/fern-house/ordinary.days.toml");
    std::mt19937_64 random(seed);
    std::bernoulli_distribution mishap(0.02);
    std::vector<DayOutcome> days;
    for (std::uint64_t day = 1; day <= count; ++day) {
        DayOutcome one{draw_day(ordinary, seed, day, 5), true};
        const bool failed = fails(one.values) || mishap(random);
        one.passed = !failed;
        days.push_back(std::move(one));
    }
    return days;
}

} // namespace

TEST_CASE("what was planted to break a trip is told first, with its bound" * doctest::skip(fixtures::sanitized())) {
    struct Plant {
        const char* told;
        bool (*fails)(const std::vector<DayValue>& values);
    };
    const std::vector<Plant> plants{
        {"left motor", [](const auto& v) { return value_of(v, Quantity::left_motor) < 0.955; }},
        {"battery", [](const auto& v) { return value_of(v, Quantity::battery) < 0.88; }},
        {"light", [](const auto& v) { return value_of(v, Quantity::light) > 1.05; }},
        {"set down to the left", [](const auto& v) { return std::abs(value_of(v, Quantity::aside)) > 3.8; }},
        {"left motor against the right one",
         [](const auto& v) { return value_of(v, Quantity::left_motor) / value_of(v, Quantity::right_motor) > 1.06; }},
    };
    const auto rounds = static_cast<std::uint64_t>(fixtures::rounds(200, 8, 1));
    int right = 0;
    int all = 0;
    for (const Plant& plant : plants) {
        for (std::uint64_t seed = 1; seed <= rounds; ++seed) {
            const std::vector<Cause> causes = find_causes(days_that_fail(seed, 200, plant.fails));
            const bool told = !causes.empty() && causes[0].quantity == plant.told;
            right += told ? 1 : 0;
            ++all;
            if (told && causes[0].failures >= 3) {
                CHECK(causes[0].failures > causes[0].passes);
            }
        }
    }
    MESSAGE("planted causes told first: ", right, " of ", all);
    CHECK(right >= 0.95 * all);
}

TEST_CASE("of what breaks a trip only now and then, on few days, the cause is mostly told, and seldom another") {
    const auto rounds = static_cast<std::uint64_t>(fixtures::rounds(600, 36, 2));
    int right = 0;
    int other = 0;
    for (std::uint64_t seed = 1; seed <= rounds; ++seed) {
        std::mt19937_64 random(seed + 77);
        const auto now_and_then = [&](const std::vector<DayValue>& v) {
            const double beyond = (0.96 - value_of(v, Quantity::right_motor)) / 0.012; // no sharp bound
            return std::bernoulli_distribution(0.8 / (1.0 + std::exp(-beyond)))(random);
        };
        const std::vector<Cause> causes = find_causes(days_that_fail(seed, 90, now_and_then));
        const bool told = !causes.empty() && (causes[0].quantity == "right motor" ||
                                              causes[0].quantity == "left motor against the right one");
        right += told ? 1 : 0;
        other += !causes.empty() && !told ? 1 : 0;
    }
    MESSAGE("now and then: told ", right, ", another told ", other, " of ", rounds);
    CHECK(right >= 0.4 * static_cast<double>(rounds));
    CHECK(other <= 0.02 * static_cast<double>(rounds) + 1.0);
}

TEST_CASE("where nothing breaks a trip but mishaps, next to never a cause is told") {
    const auto rounds = static_cast<std::uint64_t>(fixtures::rounds(1000, 50, 3));
    int told = 0;
    for (std::uint64_t seed = 1; seed <= rounds; ++seed) {
        told += find_causes(days_that_fail(seed, 200, [](const auto&) { return false; })).empty() ? 0 : 1;
    }
    MESSAGE("told without cause: ", told, " of ", rounds);
    CHECK(told <= 0.01 * static_cast<double>(rounds) + 1.0);
    CHECK(find_causes({}).empty());
}

TEST_CASE("two causes are told one after the other, in words") {
    if (fixtures::sanitized()) {
        return; // other tests of causes look at the same memory
    }
    const std::vector<Cause> causes = find_causes(days_that_fail(5, 400, [](const std::vector<DayValue>& v) {
        return value_of(v, Quantity::battery) < 0.885 || value_of(v, Quantity::turned) > 3.2;
    }));
    REQUIRE(causes.size() >= 2);
    CHECK(causes[0].quantity == "battery");
    CHECK(causes[0].bound == doctest::Approx(0.885).epsilon(0.01));
    CHECK_FALSE(causes[0].is_high);
    CHECK(causes[1].quantity == "set down turned to the left");
    CHECK(causes[1].bound == doctest::Approx(3.2).epsilon(0.1));
    CHECK(causes[1].of_failures == causes[0].of_failures - causes[0].failures);
    CHECK(describe(causes[0]).find(" failures: battery weaker than 0.88") != std::string::npos);
    CHECK(describe(causes[1]).find("set down turned to the left more than 3.") != std::string::npos);
}
