#pragma once

/// What chance decides at a look, beyond the noise of line and colour sensors: one draw for all of it.

#include <cstdint>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// The numbers of one look, each for one thing.
struct Chances {
    Draw drawn{};

    std::uint16_t lost() const { return drawn[0]; }
    std::uint16_t late() const { return drawn[1]; }
    std::uint16_t delay() const { return drawn[2]; }
    std::uint16_t compass() const { return drawn[3]; }
    std::uint16_t gyro() const { return drawn[4]; }
    std::uint16_t range() const { return drawn[5]; }
    std::uint16_t counts_of(std::size_t wheel) const { return drawn[6 + wheel]; }
};

/// Whether chance has a hand in any of it.
inline bool leaves_to_chance(const Robot& robot) {
    return robot.late_often + robot.lost_often + robot.delay_varies_ms + robot.compass.noise_deg +
               robot.gyro.wander_deg_s + robot.encoders.lost +
               (robot.range_sensor ? robot.range_sensor->noise_mm : 0.0) >
           0.0;
}

} // namespace vast_turn
