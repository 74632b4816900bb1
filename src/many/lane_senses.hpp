#pragma once

/// What several robots tell of their turns and ways, side by side.

#include <cstdint>

#include "base/wide.hpp"
#include "many/lane_motion.hpp"
#include "sim/turn_senses.hpp"

namespace vast_turn {

/// Does for each what TurnSenses does for one that is plain (TurnSenses::is_plain()), with the same bits.
class LaneSenses {
public:
    /// One more robot in a lane, or another in place of it.
    void put(std::size_t lane, const TurnSenses& senses);

    /// What all would tell now.
    void look(const LaneBodies& bodies, const Wide<double>& time_s);

    /// Into the look of one.
    void get(std::size_t lane, Look& look) const;

    /// What they reckon with, and what came of it last.
    struct Numbers {
        Wide<double> degrees_per_mm;
        Wide<double> track_mm;
        Wide<double> way_per_deg;
        Wide<double> turn_per_deg;
        Wide<double> gyro_scale;
        Wide<double> gyro_drift;
        Wide<double> start_deg;
        Wide<double> bias_deg;
        Wide<double> left_deg;
        Wide<double> right_deg;
        Wide<double> way_mm;
        Wide<double> by_wheels_deg;
        Wide<double> by_gyro_deg;
        Wide<double> by_compass_deg;
    };

private:
    struct Fitted {
        bool encoders = false;
        bool gyro = false;
        bool compass = false;
    };
    std::array<Fitted, lanes_wide> fitted_{};
    Numbers all_{};
};

} // namespace vast_turn
