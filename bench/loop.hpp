#pragma once

/// The work that is measured: 60 s of a five-sensor robot on a winding loop of about 4.8 m, 1 ms
/// steps, looks every 10 ms, noise, wheel lag, dead band; a compiled plan decides. Three ways to do
/// it, told apart only by how sensing and motion are computed.

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/scene.hpp"

namespace bench {

inline constexpr double run_s = 60.0;
inline constexpr double step_ms = 1.0;

vast_turn::Course winding_loop();
vast_turn::Robot five_sensors();
vast_turn::Plan follower();

/// What a run came to; the three ways must agree on it but for noise.
struct Outcome {
    double way_mm = 0.0;
    bool stayed = false; ///< still at the tape when the time was over
};

/// The library.
Outcome run_library(const vast_turn::Scene& scene, const vast_turn::Plan& plan);

/// The same with what is other on a day.
Outcome run_on_a_day(const vast_turn::Scene& scene, const vast_turn::Plan& plan,
                     const std::vector<vast_turn::DayValue>& day);

/// The naive way: every spot averaged cell by cell, sine and cosine at every step, noise from
/// std::normal_distribution.
Outcome run_naive(const vast_turn::Scene& scene, const vast_turn::Plan& plan);

/// The library's sensing, but a general physics engine moves the body.
Outcome run_physics_engine(const vast_turn::Scene& scene, const vast_turn::Plan& plan);

} // namespace bench
