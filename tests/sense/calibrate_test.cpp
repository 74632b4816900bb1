/// Calibration against generated arrays whose truth is known: thresholds, and every fault planted.
#include "vast_turn/sense/calibrate.hpp"

#include <algorithm>
#include <cmath>
#include <functional>
#include <string>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/bench_array.hpp"
#include "support/rounds.hpp"
#include "vast_turn/base/problem.hpp"

using namespace vast_turn;
using fixtures::BenchArray;

namespace {

const int many = fixtures::rounds(1000, 300, 60);

std::string told(const CalibrationReport& report) {
    std::string text;
    for (const Verdict& v : report.verdicts) {
        text += fmt::format("{}: {}\n", name_of(v.kind), v.says);
    }
    return text;
}

bool found(const CalibrationReport& report, VerdictKind kind, int sensor) {
    return std::any_of(report.verdicts.begin(), report.verdicts.end(), [&](const Verdict& v) {
        const bool about = sensor == 0 || std::find(v.sensors.begin(), v.sensors.end(), sensor) != v.sensors.end();
        return v.kind == kind && about;
    });
}

/// Plants a fault into `many` arrays; `plant` returns the sensor that must be named (0: none in
/// particular). Tells in how many it was found, and in how many something else was said.
struct Tally {
    int found = 0;
    int also = 0;
    std::string missed;
};

Tally plant_in_many(VerdictKind kind, int least, const std::function<int(BenchArray&)>& plant) {
    Tally tally;
    for (int seed = 0; seed < many; ++seed) {
        BenchArray array(static_cast<std::uint64_t>(seed) * 7919 + static_cast<std::uint64_t>(kind), least);
        const int sensor = plant(array);
        const CalibrationReport report = calibrate(array.readings(), array.facts());
        tally.found += found(report, kind, sensor) ? 1 : 0;
        tally.also += report.verdicts.size() > 1 ? 1 : 0;
        if (!found(report, kind, sensor) && tally.missed.empty()) {
            tally.missed = fmt::format("seed {}, sensor {} of {}: {}", seed, sensor, array.count(), told(report));
        }
    }
    MESSAGE(std::string(name_of(kind)) << ": found in " << tally.found << " of " << many
                                       << ", something else said too in " << tally.also);
    return tally;
}

int number_of(const BenchArray& array, const BenchArray::Sensor& sensor) {
    return static_cast<int>(&sensor - array.sensors.data()) + 1;
}

} // namespace

TEST_CASE("thresholds lie within one standard deviation of the noise from the best separating point") {
    int checked = 0;
    double worst = 0.0;
    for (int seed = 0; seed < many; ++seed) {
        BenchArray array(static_cast<std::uint64_t>(seed));
        for (BenchArray::Sensor& s : array.sensors) {
            const double range = s.adc_max * array.between(0.44, 0.56); // far from its ends, which cut noise off
            const double half = 0.05 * s.adc_max * (s.floor > s.line ? 1.0 : -1.0);
            s.floor = range + half;
            s.line = range - half;
            s.floor_noise = s.contrast() / array.between(4.0, 100.0);
            s.line_noise = s.floor_noise * array.between(0.4, 2.5);
        }
        const CalibrationReport report = calibrate(array.readings(), array.facts());
        for (std::size_t i = 0; i < array.sensors.size(); ++i) {
            const BenchArray::Sensor& s = array.sensors[i];
            const double threshold = report.sensors[i].threshold_counts;
            double best = least_error_threshold(s.line, s.line_noise, s.floor, s.floor_noise);
            // Where a threshold mistakes fewer than 1 look in 100,000, none separates better to speak of.
            if (error_share(threshold, s.line, s.line_noise, s.floor, s.floor_noise) < 1e-5) {
                best = threshold;
            } else {
                ++checked;
            }
            const double off = std::abs(threshold - best) / std::min(s.line_noise, s.floor_noise);
            worst = std::max(worst, off);
            CHECK_MESSAGE(off < 1.0, "seed " << seed << ", sensor " << i + 1);
        }
    }
    MESSAGE(checked << " sensors whose levels overlap; the farthest is " << worst << " deviations off");
    CHECK(checked > many / 5);
}

TEST_CASE("on sound arrays nothing is said") {
    int spoken = 0;
    std::string first;
    for (int seed = 0; seed < many; ++seed) {
        BenchArray array(static_cast<std::uint64_t>(seed) + 50000);
        const CalibrationReport report = calibrate(array.readings(), array.facts());
        spoken += report.verdicts.empty() ? 0 : 1;
        first = first.empty() ? told(report) : first;
    }
    CHECK_MESSAGE(spoken == 0, first);
}

TEST_CASE("a sensor that reads the same over everything is found") {
    const Tally tally = plant_in_many(VerdictKind::dead, 1, [](BenchArray& array) {
        BenchArray::Sensor& s = array.any();
        s.floor = s.line = s.adc_max * array.between(0.1, 0.9);
        return number_of(array, s);
    });
    CHECK_MESSAGE(tally.found == many, tally.missed);
    CHECK(tally.also == 0);
}

TEST_CASE("a sensor unlike its neighbours is found") {
    const Tally tally = plant_in_many(VerdictKind::unlike, 2, [](BenchArray& array) {
        BenchArray::Sensor& s = array.any();
        const double kept = 1.0 - array.between(0.5, 0.75) * s.contrast() / std::max(s.floor, s.line);
        s.floor *= kept;
        s.line *= kept;
        s.floor_noise *= kept;
        s.line_noise *= kept;
        return number_of(array, s);
    });
    CHECK_MESSAGE(tally.found == many, tally.missed);
}

TEST_CASE("contrast too small for the noise is found") {
    const Tally tally = plant_in_many(VerdictKind::weak_contrast, 1, [](BenchArray& array) {
        BenchArray::Sensor& s = array.any();
        s.floor_noise = s.line_noise = s.contrast() / array.between(2.0, 6.5);
        return number_of(array, s);
    });
    CHECK_MESSAGE(tally.found == many, tally.missed);
}

TEST_CASE("a sensor at the end of its range is found") {
    const Tally tally = plant_in_many(VerdictKind::clipped, 1, [](BenchArray& array) {
        BenchArray::Sensor& s = array.any();
        const double lift = s.adc_max - std::max(s.floor, s.line) + array.between(0.0, 0.2) * s.contrast();
        s.floor += lift;
        s.line += lift;
        return number_of(array, s);
    });
    CHECK_MESSAGE(tally.found == many, tally.missed);
}

TEST_CASE("a sensor of the other polarity is found, and the array's own polarity too") {
    const Tally tally = plant_in_many(VerdictKind::inverted, 3, [](BenchArray& array) {
        BenchArray::Sensor& s = array.any();
        std::swap(s.floor, s.line);
        return number_of(array, s);
    });
    CHECK_MESSAGE(tally.found == many, tally.missed);
    for (int seed = 0; seed < 100; ++seed) {
        BenchArray array(static_cast<std::uint64_t>(seed));
        const bool lighter = array.sensors[0].line > array.sensors[0].floor;
        CHECK(calibrate(array.readings()).line_is_lighter == lighter);
    }
}

TEST_CASE("levels that drift are found") {
    const Tally tally = plant_in_many(VerdictKind::drift, 1, [](BenchArray& array) {
        array.drift = array.between(0.14, 0.3) * (array.between(0.0, 1.0) < 0.5 ? -1.0 : 1.0);
        return 0;
    });
    CHECK_MESSAGE(tally.found == many, tally.missed);
}

TEST_CASE("swapped and reversed wires are found and named") {
    const Tally swapped = plant_in_many(VerdictKind::wiring, 3, [](BenchArray& array) {
        const auto a = static_cast<std::size_t>(array.between(0.0, array.count() - 1.0));
        std::swap(array.wires[a], array.wires[static_cast<std::size_t>(array.count() - 1)]);
        return static_cast<int>(a) + 1;
    });
    CHECK_MESSAGE(swapped.found == many, swapped.missed);
    CHECK(swapped.also == 0);
    const Tally reversed = plant_in_many(VerdictKind::wiring, 2, [](BenchArray& array) {
        std::reverse(array.wires.begin(), array.wires.end());
        return 0;
    });
    CHECK_MESSAGE(reversed.found == many, reversed.missed);
}

TEST_CASE("the kind of wiring fault is told apart") {
    BenchArray array(11, 5);
    std::reverse(array.wires.begin(), array.wires.end());
    CHECK(calibrate(array.readings(), array.facts()).sweep->order == SweepOrder::reversed);
    std::swap(array.wires[0], array.wires[2]);
    CHECK(calibrate(array.readings(), array.facts()).sweep->order == SweepOrder::other);
    std::sort(array.wires.begin(), array.wires.end());
    std::swap(array.wires[1], array.wires[2]);
    const CalibrationReport report = calibrate(array.readings(), array.facts());
    CHECK(report.sweep->order == SweepOrder::swapped);
    CHECK(report.sweep->out_of_place == std::vector<int>{2, 3});
    CHECK(report.verdicts[0].says.find("2 (C2) and sensor 3 (C3) are swapped") != std::string::npos);
}

TEST_CASE("a sensor that lies elsewhere than the robot file says is found") {
    const Tally tally = plant_in_many(VerdictKind::spacing, 3, [](BenchArray& array) {
        BenchArray::Sensor& s = array.any();
        const double gap = array.sensors[0].left_mm - array.sensors[1].left_mm;
        const double way = array.between(0.55, 0.8) * gap;
        s.left_mm += array.between(0.0, 1.0) < 0.5 ? way : -way;
        return number_of(array, s);
    });
    CHECK_MESSAGE(tally.found == many, tally.missed);
}

TEST_CASE("a marker about the threshold is found, one that is clearly floor or line is not") {
    const Tally tally = plant_in_many(VerdictKind::marker, 1, [](BenchArray& array) {
        array.with_marker = true;
        array.shade = 0.5;
        return 0;
    });
    CHECK_MESSAGE(tally.found == many, tally.missed);
    for (const double shade : {0.05, 0.95}) {
        BenchArray array(5, 2);
        array.with_marker = true;
        array.shade = shade;
        const CalibrationReport report = calibrate(array.readings(), array.facts());
        CHECK(told(report).empty());
        REQUIRE(report.markers.size() == 1);
        CHECK(report.markers[0].seen[0].as == (shade > 0.5 ? SeenAs::line : SeenAs::floor));
        CHECK(report.markers[0].seen[0].reading == doctest::Approx(shade).epsilon(0.3));
    }
}

TEST_CASE("readings without line or without floor are refused") {
    BenchArray array(3);
    BenchReadings readings = array.readings();
    readings.looks.erase(std::remove_if(readings.looks.begin(), readings.looks.end(),
                                        [](const BenchLook& look) { return look.under == under::line; }),
                         readings.looks.end());
    CHECK_THROWS_AS(calibrate(readings), InputError);
}
