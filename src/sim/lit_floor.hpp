#pragma once

/// Light from outside as a run asks for it: at the same moments before each look, along with the robot.

#include <cstddef>
#include <cstdint>
#include <vector>

#include "vast_turn/course/board/outside_light.hpp"

namespace vast_turn {

/// light_at() for one run, with what does not change from look to look reckoned once.
class LitFloor {
public:
    /// `before_s`: for each who asks, how long before a look he saw. Where a flicker begins is drawn by the seed.
    LitFloor(const std::vector<OutsideLight>& lights, std::uint64_t seed, const std::vector<double>& before_s);

    /// To be called at each look.
    void at_time(double t_s);

    /// At a place, for one who asks.
    double at(std::size_t who, Vec2 p) const;

private:
    struct Source {
        LightSpread spread;
        double strength;
        bool is_shadow;
        double flicker_hz;
        double flicker;
        double phase;
        double sine = 0.0; ///< of its flicker, now
        double cosine = 1.0;
        std::vector<Vec2> back{}; ///< cosine and sine of what its flicker turned since each saw
    };

    std::vector<Source> sources_;
};

} // namespace vast_turn
