#pragma once

/// What tells the robot how it has turned and how far it went: encoders, gyro, compass.

#include <array>
#include <cstddef>
#include <cstdint>
#include <vector>

#include "sim/chances.hpp"
#include "vast_turn/runtime/arithmetic.hpp"
#include "vast_turn/runtime/look.hpp"
#include "vast_turn/sim/motion.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// Those of one run. Each tells what it can know of the turn; one that the robot lacks tells nothing.
class TurnSenses {
public:
    /// Keeps a reference. `start_heading_deg`: the way it faced at first. `numbers`: how the robot computes.
    TurnSenses(const Scene& scene, double start_heading_deg, runtime::NumberKind numbers);

    void look(const Body& body, double t_s, const Chances& chances, Look& out);

    /// It has counted and strayed as another has.
    void go_on_from(const TurnSenses& other) {
        counted_ = other.counted_;
        wandered_deg_s_ = other.wandered_deg_s_;
        strayed_deg_ = other.strayed_deg_;
        gyro_seen_s_ = other.gyro_seen_s_;
        start_heading_deg_ = other.start_heading_deg_;
    }

    /// Whether all that it tells follows from the way and the turn by a few sums: encoders that count as finely as can
    /// be told, no chance, no iron.
    bool is_plain() const;

private:
    friend class LaneSenses; // tells several robots' side by side
    /// What has been counted of a wheel.
    struct Counted {
        double all = 0.0;  ///< counts that there were
        double told = 0.0; ///< counts that somebody counted
    };
    void encoders(const Body& body, const Chances& chances, Look& out);
    double lost_of(double counts, std::uint16_t drawn) const;
    double counted_mm(std::size_t wheel, double mm, const Chances& chances);
    template <class Numbers> void reckon(Look& out) const;
    double gyro_deg(double turned_deg, double t_s, const Chances& chances);
    double compass_deg(const Body& body, double turned_deg, const Chances& chances) const;

    const Scene& scene_;
    double start_heading_deg_;
    double degrees_per_mm_; // of a wheel
    bool counts_true_;      // its wheels are as its encoders believe
    bool computes_short_;
    std::array<Counted, 2> counted_{};
    std::vector<double> none_lost_; // the chance that of so many counts none is lost
    double wandered_deg_s_ = 0.0;   // of the gyro's drift by now
    double strayed_deg_ = 0.0;      // what that has made of the heading
    double gyro_seen_s_ = 0.0;
};

} // namespace vast_turn
