/// What one slide across the tape tells.
#include "vast_turn/sense/sweep.hpp"

#include <algorithm>
#include <cmath>

#include <doctest/doctest.h>

#include "support/bench_array.hpp"
#include "vast_turn/sense/calibrate.hpp"

using namespace vast_turn;
using fixtures::BenchArray;

namespace {

CalibrationReport report_of(BenchArray& array, const BenchReadings& readings) {
    return calibrate(readings, array.facts());
}

bool complains(const CalibrationReport& report, const std::string& part) {
    return std::any_of(report.verdicts.begin(), report.verdicts.end(),
                       [&](const Verdict& v) { return v.says.find(part) != std::string::npos; });
}

/// Calls the looks of the sweep something else.
void rename_sweep(BenchReadings& readings, const char* name) {
    for (BenchLook& look : readings.looks) {
        if (look.under == under::sweep) {
            look.under = name;
        }
    }
}

} // namespace

TEST_CASE("peaks come in the order of the sensors, where the sensors lie") {
    for (std::uint64_t seed = 0; seed < 60; ++seed) {
        BenchArray array(seed, 3);
        const CalibrationReport report = report_of(array, array.readings());
        REQUIRE(report.sweep);
        REQUIRE(report.sweep->off_mm.size() == array.sensors.size());
        for (const double off : report.sweep->off_mm) {
            CHECK(std::abs(off) < 0.3 * (array.sensors[0].left_mm - array.sensors[1].left_mm));
        }
        CHECK(std::is_sorted(report.sweep->came.begin(), report.sweep->came.end()));
        for (const auto& curve : report.sweep->readings) {
            CHECK(*std::max_element(curve.begin(), curve.end()) > 0.9);
        }
    }
}

TEST_CASE("a sweep back is the sweep turned round") {
    BenchArray array(7, 4);
    std::reverse(array.wires.begin(), array.wires.end()); // as if it had been slid the other way
    BenchReadings readings = array.readings();
    CHECK(report_of(array, readings).sweep->order == SweepOrder::reversed);
    rename_sweep(readings, under::sweep_back);
    const CalibrationReport report = report_of(array, readings);
    CHECK(report.sweep->order == SweepOrder::as_listed);
    CHECK(report.verdicts.empty());
}

TEST_CASE("without a sweep nothing is said of the wiring") {
    BenchArray array(7, 4);
    std::reverse(array.wires.begin(), array.wires.end());
    BenchReadings readings = array.readings();
    readings.looks.erase(std::remove_if(readings.looks.begin(), readings.looks.end(),
                                        [](const BenchLook& look) { return look.under == under::sweep; }),
                         readings.looks.end());
    const CalibrationReport report = report_of(array, readings);
    CHECK_FALSE(report.sweep.has_value());
    CHECK(report.verdicts.empty());
}

TEST_CASE("to and fro in one sweep, and a sweep that stops too early, cannot be used") {
    BenchArray array(9, 4);
    BenchReadings to_and_fro = array.readings();
    std::vector<BenchLook> back;
    for (const BenchLook& look : to_and_fro.looks) {
        if (look.under == under::sweep) {
            back.insert(back.begin(), look);
        }
    }
    auto end = std::find_if(to_and_fro.looks.begin(), to_and_fro.looks.end(),
                            [](const BenchLook& look) { return look.under == under::sweep; });
    to_and_fro.looks.insert(end, back.begin(), back.end());
    CHECK(complains(report_of(array, to_and_fro), "more than once in one sweep"));

    BenchReadings early = array.readings();
    int seen = 0;
    early.looks.erase(std::remove_if(early.looks.begin(), early.looks.end(),
                                     [&](const BenchLook& look) { return look.under == under::sweep && ++seen > 110; }),
                      early.looks.end());
    CHECK(complains(report_of(array, early), "never saw the tape in the sweep"));
}

TEST_CASE("places cannot be told of two sensors, nor without a robot file") {
    BenchArray two(12, 2);
    while (two.count() != 2) {
        two = BenchArray(static_cast<std::uint64_t>(two.between(0.0, 1e6)), 2);
    }
    CHECK(report_of(two, two.readings()).sweep->off_mm.empty());
    BenchArray array(3, 3);
    CHECK(calibrate(array.readings()).sweep->off_mm.empty());
}
