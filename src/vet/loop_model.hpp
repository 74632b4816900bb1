#pragma once

/// Steering by a weighted position as a linear loop.

#include <optional>

#include "plan/text/syntax.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn::vetting {

/// What a motion makes of `offset`: steering (half the difference of the wheels, percent, left positive) and speed.
struct Steering {
    double kp = 0.0; ///< percent a unit of offset
    double ki = 0.0; ///< percent a unit and second
    double kd = 0.0; ///< percent seconds a unit
    double speed_pct = 0.0;
};

/// Of a motion that is linear in `offset` and reads nothing else; nothing for any other. `clamp` is taken as open.
std::optional<Steering> steering_of(const lang::Act& motion);

/// What comes of a loop.
struct LoopJudgement {
    double phase_margin_deg = 0.0; ///< at the steepest gain of the array; negative when it swings wider at first
    double swing_mm = 0.0;         ///< how far aside, each way, it then swings for good; 0 when it calms down
};

/// Judges the loop of a robot that steers so over a straight line.
///
/// The loop is the steering of a vehicle that looks ahead (K. J. Astrom, R. M. Murray: Feedback Systems, 2008, examples
/// 5.12 and 6.4: from turn rate to the distance aside seen d ahead, (d s + v) / s^2), behind a first-order lag of the
/// motors, the delay and half a look that a held command lasts on average; the margin is read at the crossings of gain
/// 1 (ibid., section 9.3). How `offset` grows with the distance aside is no straight line: it is put in by its
/// describing function (ibid., section 9.5), and the swing is where its gain has fallen to what the loop just bears.
LoopJudgement judge_loop(const Steering& steering, const Robot& robot, double line_mm);

} // namespace vast_turn::vetting
