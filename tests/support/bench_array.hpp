#pragma once

/// Random arrays with known truth, and the readings that they would give on the bench.

#include <cstdint>
#include <random>
#include <vector>

#include "vast_turn/sense/bench_readings.hpp"

namespace fixtures {

class BenchArray {
public:
    /// A sound array: one to eight sensors (at least `least`), either polarity, gains within 6 % of one another.
    explicit BenchArray(std::uint64_t seed, int least = 1);

    struct Sensor {
        double floor = 0.0; ///< counts
        double line = 0.0;
        double floor_noise = 0.0;
        double line_noise = 0.0;
        double adc_max = 1023.0;
        double left_mm = 0.0; ///< where it really is
        double contrast() const { return line < floor ? floor - line : line - floor; }
    };
    std::vector<Sensor> sensors;
    std::vector<int> wires; ///< which sensor each channel is wired to; planted wiring faults change it
    double drift = 0.0;     ///< rise of all levels over the recording, part of the contrast
    double shade = 0.0;     ///< how dark the marker "teal" is between floor (0) and line (1)
    bool with_marker = false;

    int count() const { return static_cast<int>(sensors.size()); }
    /// A number between two, of this array's own sequence.
    double between(double low, double high);
    /// One of the sensors, at random.
    Sensor& any();
    /// What the robot file says: places as first made, ranges.
    const vast_turn::ArrayFacts& facts() const { return facts_; }
    vast_turn::BenchReadings readings();

private:
    double counts(const Sensor& sensor, double on_line, double progress);
    void hold(vast_turn::BenchReadings& out, const char* what, double on_line, int looks);
    void slide(vast_turn::BenchReadings& out);

    std::mt19937_64 random_;
    vast_turn::ArrayFacts facts_;
};

} // namespace fixtures
