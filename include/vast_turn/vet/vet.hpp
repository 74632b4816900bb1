#pragma once

/// Finds out what is wrong with a plan: of the plan alone by logic, against a robot and a course by trial drives.
/// docs/findings.md lists what is looked for.

#include <optional>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/emit/chip_cost.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/calibrate.hpp"
#include "vast_turn/vet/finding.hpp"

namespace vast_turn {

/// What a plan is held against. Anything may be missing; what needs it is then not looked for.
struct VetAgainst {
    const Robot* robot = nullptr;             ///< with as many line sensors as the plan
    const Course* course = nullptr;           ///< painted; used with a robot only where it says so
    const Calibration* calibration = nullptr; ///< of the robot's sensors, left to right
    /// How the plan computes where it is driven. What is said of formulas is said of exact numbers.
    runtime::NumberKind numbers = runtime::NumberKind::binary64;
    /// Where its C is to run, in `float` (emit/chip_cost.hpp); looked at with a robot. Over the course from each start,
    /// or over a straight line.
    std::optional<ChipRoom> chip = std::nullopt;
};

/// Everything that is found, allowed by comments (`// vet: allow CODE because ...` on the line before or at the end of
/// the line) or known as a number. The same arguments give the same report.
///
/// What is said of patterns and rules is exact: it is decided over all patterns together with every other condition as
/// a free choice, with the relations between comparisons of one quantity. Where arithmetic prevents that, nothing is
/// claimed and `undecided` says so.
VetReport vet(const Plan& plan, const VetAgainst& against = {});

} // namespace vast_turn
