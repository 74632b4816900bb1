#pragma once

/// How a plan follows a straight line: driven over a lane of its own.

#include <optional>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/calibration.hpp"

namespace vast_turn::vetting {

/// Of tape, where no course says it.
inline constexpr double usual_line_mm = 19.0;

/// A straight line of three metres, painted: in the colours of a course, or in those of a new one.
Course straight_lane(const Course* like, double line_mm);

/// A swing that matters on the floor; less is lost in the tape's width.
inline constexpr double least_swing_mm = 3.0;

/// What came of it.
struct LaneDrive {
    enum class End : std::uint8_t {
        followed,
        lost,   ///< it saw the line, and left it
        unclear ///< it halted, did an errand, or never began to follow
    };
    End end = End::unclear;
    double swing_mm = 0.0;    ///< each way about its own middle
    bool when_pushed = false; ///< only where it was set down 8 mm aside: nearer it calms down
    RuleId rule;              ///< that acted most while it swung; none when no rule did
};

/// Sets the robot down a little aside, seven times with other noise, and measures behind 1.7 m, where it has settled:
/// half of what lies between all looks but the outermost twentieths. The swing is the median of the five that were set
/// down nearest. Throws InputError as drive() does.
LaneDrive drive_lane(const Course& lane, const Robot& robot, const Plan& plan,
                     const std::optional<Calibration>& calibration, runtime::NumberKind numbers);

} // namespace vast_turn::vetting
