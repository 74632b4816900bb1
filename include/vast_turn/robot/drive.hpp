#pragma once

/// What a robot has that weighs something: mass, tyres that may slide, friction, gear play, a battery that sags.

#include <algorithm>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

inline constexpr double gravity_mm_s2 = 9810.0;

/// The drive of a robot with weight. With it Motors::lag_ms is the time constant on the straight, top_speed_mm_s the
/// speed of a free wheel; how both come out on the floor follows from the rest. docs/simulation.md has the model.
struct Drive {
    double mass_g = 430.0;      ///< all of it
    double gyration_mm = 46.0;  ///< its radius of gyration about the point midway between the wheels
    double on_wheels = 0.8;     ///< share of the weight that the two wheels bear, half each; the caster has the rest
    double grip = 0.8;          ///< friction number between tyres and floor
    double wheel_g = 14.0;      ///< a wheel with its gears and motor, as if all of it ran round at the rim
    Vec2 caster_mm{-45.0, 0.0}; ///< robot frame
    double caster_drag = 0.0;   ///< friction number of the caster
    double rub = 0.3;           ///< friction number between the robot's outline and what it slides along
    double keep_pct = 0.0;      ///< power that a turning wheel loses to friction
    double start_pct = 0.0;     ///< power below which a standing wheel does not start; at least keep_pct
    double play_deg = 0.0;      ///< gear play: a wheel turns so far before the motor has it when its push changes sides
    double sag = 0.0; ///< part of its voltage, below 1, that the battery loses when both motors are held at full power
    double run_down = 0.0; ///< part of its voltage that the battery loses in a minute

    /// Of the battery, as a part of what would let a held motor at full power lose all of its voltage: two of them,
    /// held, then lose `sag` of it.
    double resistance() const { return 0.5 * sag / (1.0 - sag); }
    /// What a standing wheel starts at.
    double starts_pct() const { return std::max(keep_pct, start_pct); }
};

} // namespace vast_turn
