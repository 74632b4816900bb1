#pragma once

/// What the robot's sensors report: from the surface under each spot to counts, readings and bits.

#include <array>
#include <cstddef>
#include <cstdint>
#include <vector>

#include "vast_turn/robot/array.hpp"
#include "vast_turn/robot/day.hpp"
#include "vast_turn/sim/motion.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// The line sensors of one run.
///
/// A raw reading is adc_max times gain times the mean reflectance under the spot, plus noise, rounded
/// and kept within 0..adc_max. Faults change which sensor a channel reads and what it gets.
class Eyes {
public:
    Eyes(const Scene& scene, const Calibration& calibration, std::uint64_t seed, const Faults& faults = {},
         const CourseDay& day = {});

    /// Raw counts of all channels with each sensor held over a point of its own, and the robot away.
    void held_over(const std::vector<Vec2>& points, std::uint64_t look_number, double* counts) const;

    /// Raw counts of all channels at a time of the run.
    void raw_counts(const Body& body, double t_s, std::uint64_t look_number, double* counts) const;

    /// Fills the part of a look that the line sensors give, and the record's raw counts.
    void look(const Body& body, double t_s, std::uint64_t look_number, Look& out, LookRecord& record);

private:
    using Spots = std::array<SpotMap::Spot, max_sensors>; // filled as far as there are sensors

    void noise(std::uint64_t look_number, double* counts) const;
    void count(const Spots& spots, std::uint64_t look_number, double* counts) const;
    void imperfect_counts(const Body& body, double t_s, std::uint64_t look_number, double* counts) const;

    /// One channel as the inner loop wants it.
    struct Eye {
        Vec2 at_mm; ///< of the sensor at its wire
        Channel channel;
        const SpotMap* surface;
        double before_s = 0.0; ///< it was read so long before the look
        double response_s = 0.0;
        double outside = 0.0;
        double drift_a_s = 0.0;
        double bare = 0.0; ///< what it sees of the floor
    };
    Vec2 place_before(const Eye& eye, const Body& body, double before_s) const;
    double shade(const Eye& eye, Vec2 p) const;

    std::vector<Eye> eyes_;
    ArrayReader reader_;
    std::uint64_t seed_;
    bool noisy_;
    bool perfect_ = true; // but for noise and curve
    double track_mm_;
    double faded_;
    std::vector<OutsideLight> lights_;
};

} // namespace vast_turn
