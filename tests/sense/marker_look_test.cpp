#include "vast_turn/sense/marker_look.hpp"

#include <algorithm>

#include <doctest/doctest.h>

using namespace vast_turn;

namespace {

/// Looks over one surface with a little scatter that is the same every time.
void add(BenchReadings& readings, const std::string& what, double counts, ColourCounts colour) {
    for (int i = 0; i < 20; ++i) {
        const double shift = (i * 7 % 5) - 2.0;
        BenchLook look;
        look.under = what;
        look.counts[0] = counts + shift;
        for (double& channel : colour) {
            channel += (i * 3 % 4 - 1.5) * 0.5;
        }
        look.colour = colour;
        readings.looks.push_back(look);
    }
}

BenchReadings plates() {
    BenchReadings readings;
    readings.channels = {"A0"};
    add(readings, under::floor, 850.0, {870, 860, 830, 2560});
    add(readings, under::line, 110.0, {96, 97, 99, 292});
    add(readings, "amber", 812.0, {850, 560, 80, 1490});
    add(readings, "teal", 120.0, {66, 515, 510, 1091});
    return readings;
}

const Calibration levels{{SensorLevels{850.0, 110.0, 0.5, 0.0}}};

} // namespace

TEST_CASE("a marker is line, floor or unsure to a line sensor, with its distance from the threshold") {
    BenchReadings readings = plates();
    add(readings, "grey", 482.0, {300, 300, 300, 900});
    const std::vector<MarkerLook> looks = marker_looks(readings, levels, {true});
    REQUIRE(looks.size() == 3);
    CHECK(looks[0].colour == "amber");
    CHECK(looks[0].looks == 20);
    CHECK(looks[0].seen[0].as == SeenAs::floor);
    CHECK(looks[0].seen[0].reading == doctest::Approx(0.051).epsilon(0.05));
    CHECK(looks[0].seen[0].margin_counts < -300.0);
    CHECK(looks[1].seen[0].as == SeenAs::line);
    CHECK(looks[1].seen[0].margin_in_noise > 100.0);
    CHECK(looks[2].seen[0].as == SeenAs::unsure);
    CHECK(marker_looks(readings, levels, {false})[0].seen[0].as == SeenAs::unsure);
}

TEST_CASE("each colour gets the ratio that lies farthest from everything else") {
    const BenchReadings readings = plates();
    const std::vector<MarkerRule> rules = marker_rules(readings);
    REQUIRE(rules.size() == 2);
    CHECK(rules[0].colour == "amber");
    CHECK(rules[0].margin > 3.0);
    CHECK(rules[0].not_told_from.empty());
    for (const MarkerRule& rule : rules) {
        for (const BenchLook& look : readings.looks) {
            CHECK(rule.holds(*look.colour) == (look.under == rule.colour));
        }
    }
    CHECK_FALSE(rules[0].holds({0, 0, 0, 0}));
}

TEST_CASE("two plates of nearly one colour are told from line and floor, and named as not told apart") {
    BenchReadings readings = plates();
    add(readings, "ochre", 811.0, {850, 560.4, 80, 1490});
    const std::vector<MarkerRule> rules = marker_rules(readings);
    REQUIRE(rules.size() == 3);
    CHECK(rules[0].not_told_from == std::vector<std::string>{"ochre"});
    CHECK(rules[2].not_told_from == std::vector<std::string>{"amber"});
    CHECK(rules[1].not_told_from.empty());
    CHECK(rules[0].margin > 3.0); // to line and floor
    for (const BenchLook& look : readings.looks) {
        if (look.under == under::line || look.under == under::floor) {
            CHECK_FALSE(rules[0].holds(*look.colour));
        }
    }
}

TEST_CASE("without colour readings there are no colour rules") {
    BenchReadings readings = plates();
    for (BenchLook& look : readings.looks) {
        look.colour.reset();
    }
    CHECK(marker_rules(readings).empty());
    CHECK(marker_looks(readings, levels, {true}).size() == 2);
}
