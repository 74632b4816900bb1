#pragma once

/// A robot and a plan on one ideal bend, without a course: lines and sensors are formulas.

#include <cstdint>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn::vetting {

/// A straight, an arc and a straight.
struct Bend {
    double radius_mm = 0.0; ///< of the line's middle; 0 is a corner
    double turn_deg = 90.0;
    double side = 1.0; ///< +1 to the left, -1 to the right
    double line_mm = 19.0;
};

/// What part of a round spot lies over a straight line: 0..1. The spot's centre is `aside_mm` from the line's middle.
double covered(double aside_mm, double line_mm, double spot_mm);

enum class BendEnd : std::uint8_t {
    held,
    lost,
    unclear, ///< the plan halts, or does an errand while it sees the line: it may mean another place than this bend
};

/// Whether the robot comes round the bend without the line leaving its array.
///
/// The plan itself decides look by look; wheels follow with their lag, delay and dead band (sim/motion.hpp); a reading
/// is the part of the spot that the line covers, taken as straight there. No noise, no gaps, no markers; the start
/// button is held for the first looks. The line has left the array when it is nowhere under it in three looks on end.
BendEnd drive_bend(const Plan& plan, const Robot& robot, const Bend& bend,
                   runtime::NumberKind numbers = runtime::NumberKind::binary64);

/// The tightest quarter turn that it holds, like every wider one tried.
struct TightestBend {
    BendEnd widest = BendEnd::held; ///< what comes of 800 mm, the first that is tried
    double radius_mm = 0.0;         ///< to 4 %, when that is held
};
TightestBend tightest_bend(const Plan& plan, const Robot& robot, double side, double line_mm,
                           runtime::NumberKind numbers = runtime::NumberKind::binary64);

} // namespace vast_turn::vetting
