#pragma once

/// What the robot's sensors report: from the surface under each spot to counts, readings and bits.

#include <array>
#include <cstddef>
#include <cstdint>
#include <vector>

#include "base/power_curve.hpp"
#include "sim/floor_today.hpp"
#include "sim/held.hpp"
#include "sim/lately.hpp"
#include "sim/lit_floor.hpp"
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
         const CourseDay& day = {}, runtime::NumberKind numbers = runtime::NumberKind::binary64);

    /// Raw counts of all channels with each sensor held over a point of its own, and the robot away.
    void held_over(const std::vector<Vec2>& points, std::uint64_t look_number, double* counts) const;

    /// Raw counts of all channels at a time of the run.
    void raw_counts(const Body& body, double t_s, std::uint64_t look_number, double* counts) const;

    /// Fills the part of a look that the line sensors give, and the record's raw counts.
    void look(const Body& body, double t_s, std::uint64_t look_number, Look& out, LookRecord& record);

    /// A look's counts were changed by hand, after look(): readings, bits, offset and side follow.
    void read_anew(Look& look, LookRecord& record);

    /// They have told what others of the same robot did.
    void go_on_from(const Eyes& other);

    /// Roughly, beyond its own size.
    std::size_t memory_bytes() const {
        return eyes_.capacity() * sizeof(Eye) + curves_.capacity() * sizeof(PowerCurve) + floor_.memory_bytes();
    }

    /// Whether counts are those of the painted surface and noise alone, so that several robots' can be had side by
    /// side.
    bool are_plain() const {
        return perfect_ && curves_.empty() && doubles_.empty() && reader_.numbers() == runtime::NumberKind::binary64;
    }

    /// They have told that before.
    void recall(const ArrayReader::Past& past) { reader_.recall(past); }

private:
    friend class LaneEyes;
    using Spots = std::array<SpotMap::Spot, max_sensors>; // filled as far as there are sensors

    void noise(std::uint64_t look_number, double* counts) const;
    void count(const Spots& spots, std::uint64_t look_number, double* counts) const;
    void imperfect_counts(const Body& body, double t_s, std::uint64_t look_number, double* counts) const;

    /// One channel as the inner loop wants it.
    struct Eye {
        Vec2 at_mm; ///< of the sensor at its wire
        Channel channel;
        FloorToday::View view;
        double before_s = 0.0; ///< it was read so long before the look
        double response_s = 0.0;
        double outside = 0.0;
        double drift_a_s = 0.0;
        std::size_t curve = no_curve; ///< of its channel, among curves_
    };
    static constexpr std::size_t no_curve = SIZE_MAX;
    double counts_of(const Eye& eye, double light) const;
    std::size_t curve_of(double power);

    /// Points of the past and what each weighs.
    struct PastPoint {
        double at = 0.0; ///< in time constants before now
        double weight = 0.0;
    };
    struct Past {
        std::size_t points = 1;
        std::array<PastPoint, 3> point{};
    };
    static const Past& past_for(double went);
    struct Looked {
        const Past* past = nullptr;
        Vec2 mean_place;
        std::array<Vec2, 3> at;             // filled as far as there are points
        std::array<SpotMap::Spot, 3> spots; // likewise
    };
    void looks_at(const Eye& eye, const Lately& lately, Looked& looked) const;
    double light_seen(std::size_t number, const Looked& looked, double t_s) const;

    /// A line sensor that is a colour sensor at the same time, and blind meanwhile.
    struct Double {
        std::size_t eye = 0;
        double rate_ms = 0.0;
        double blind_s = 0.0;
        Held<double> blind_until_s{}; ///< told anew with each colour
    };
    void hold_blind(double t_s, double* counts);

    std::vector<Eye> eyes_;
    std::vector<PowerCurve> curves_;
    std::vector<Double> doubles_;
    std::vector<double> told_; // last, by channel; empty before the first look
    ArrayReader reader_;
    ArrayReader::Past before_; // the last look
    std::uint64_t seed_;
    bool noisy_;
    bool perfect_ = true; // but for noise and curve
    double track_mm_;
    FloorToday floor_;
    LitFloor light_;
};

} // namespace vast_turn
