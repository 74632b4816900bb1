#pragma once

/// Motion of several robots side by side.

#include <cstdint>

#include "base/wide.hpp"
#include "vast_turn/sim/motion.hpp"

namespace vast_turn {

/// Where they are and how fast: each number of Body for all of them.
struct LaneBodies {
    Wide<double> x;
    Wide<double> y;
    Wide<double> ahead_x;
    Wide<double> ahead_y;
    Wide<double> turned_rad;
    Wide<double> way_mm;
    Wide<double> path_mm;
    Wide<double> left_mm_s;
    Wide<double> right_mm_s;

    void put(std::size_t lane, const Body& body);
    /// Into a body; what encoders of a robot with weight counted stays as it is.
    void get(std::size_t lane, Body& body) const;
};

/// Does for each what Motion does for one, with the same bits.
class LaneMotion {
public:
    /// One more robot in a lane, or another in place of it.
    void put(std::size_t lane, const Motion& motion);

    /// The next move is the first behind a look.
    void at_look() { next_ = 0; }

    /// Moves each for as many steps of its own; who has 0 stays as it is.
    void advance(LaneBodies& bodies, const Wide<std::int64_t>& steps, const Wide<double>& left_target_mm_s,
                 const Wide<double>& right_target_mm_s);

    /// A stride of each, Motion::Stride number by number.
    struct Strides {
        std::array<Wide<double>, Motion::points> time_s;
        std::array<Wide<double>, Motion::points> decay;
        std::array<Wide<double>, Motion::points> gone_s;
        std::array<Wide<double>, Motion::nodes> weight_s;
        Wide<std::int64_t> units{}; ///< its length, 0 before the first
    };
    /// Speeds and turns, each as a Pace.
    struct Paces {
        Wide<double> speed_target;
        Wide<double> speed_rest;
        Wide<double> turn_target;
        Wide<double> turn_rest;
        Wide<std::int64_t> goes;
    };

private:
    void load(Strides& strides, const Wide<std::int64_t>& units) const;

    // Moves between looks are alike from look to look, so strides are kept for the next look, by their place in it.
    static constexpr std::size_t kept = 4;
    std::array<Strides, kept> strides_;
    std::array<const Motion*, lanes_wide> motion_{};
    Wide<double> per_track_{};
    Wide<std::int64_t> units_{};
    Wide<std::int64_t> longest_{};
    std::size_t next_ = 0;
};

} // namespace vast_turn
