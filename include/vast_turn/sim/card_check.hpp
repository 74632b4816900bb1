#pragma once

/// The check with a card of tape: hold it under one sensor after another, see which lamp lights and
/// which wheel speeds up.

#include <optional>
#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/faults.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/calibration.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

/// What stands on the bench with the card under one place. Compare `expected` with `pattern`, then the signs of the
/// wheels with where the card is; `remark` says it in words.
struct CardStep {
    std::vector<int> card_under; ///< sensors (from 1 at the left) that have the card; empty: none
    /// By sensor, with the card where it is: raw counts, and readings 0..1.
    std::vector<double> counts;
    std::vector<double> readings;
    /// The lamps that should be lit, and those that are.
    Pattern expected;
    Pattern pattern;
    double left_pct = 0.0; ///< what the plan asks for
    double right_pct = 0.0;
    MotorCommand left; ///< what stands at the outputs
    MotorCommand right;
    /// Settled, over the ground, with the robot's faults.
    double left_mm_s = 0.0; ///< how the wheels turn
    double right_mm_s = 0.0;
    std::string remark; ///< what is not as it should be; empty when all is
};

/// Surfaces of the bench, as reflectances.
struct CardSurfaces {
    /// Reflectances 0..1 of a light floor and dark tape.
    double floor = 0.87;
    double line = 0.11;
};

/// Carries out the check: no card, the card under each sensor, under all. The plan begins anew at each
/// step. The robot has the faults; without a calibration it is calibrated on these surfaces as the sound
/// robot. Noise is left out; `numbers` is how the plan computes. Throws InputError when plan or calibration are for
/// other numbers of sensors.
std::vector<CardStep> card_check(const Robot& robot, const Plan& plan, const Faults& faults = {},
                                 const std::optional<Calibration>& calibration = std::nullopt,
                                 CardSurfaces surfaces = {},
                                 runtime::NumberKind numbers = runtime::NumberKind::binary64);

} // namespace vast_turn
