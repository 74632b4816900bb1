#pragma once

/// What the robot's sensors report: from the surface under each spot to counts, readings and bits.

#include <cstdint>
#include <vector>

#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// The line sensors of one run.
///
/// A raw reading is adc_max times the mean reflectance under the spot, plus noise, rounded and kept
/// within 0..adc_max. What disturbs a sensor (faults, drift, ambient light) belongs between the
/// surface and the rounding, in `raw_counts`.
class Eyes {
public:
    Eyes(const Scene& scene, const Calibration& calibration, std::uint64_t seed);

    /// Fills the part of a look that the line sensors give, and the record's raw counts.
    void look(const Body& body, std::uint64_t look_number, Look& out, LookRecord& record);

private:
    void noise(std::uint64_t look_number, double* counts) const;
    void raw_counts(const Body& body, std::uint64_t look_number, double* counts) const;

    /// One sensor as the inner loop wants it.
    struct Eye {
        Vec2 at_mm;
        double counts; ///< at full reflectance
        double noise;
        const SpotMap* surface;
    };

    std::vector<Eye> eyes_;
    LineReader reader_;
    std::uint64_t seed_;
    bool noisy_;
    std::vector<double> side_; // of each pattern; 0 for a balanced one
    std::vector<double> weights_;
};

} // namespace vast_turn
