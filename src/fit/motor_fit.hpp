#pragma once

/// Motors found from what encoders counted, and turning from what gyro or compass told beside them.

#include <optional>
#include <utility>
#include <vector>

#include <Eigen/Dense>

#include "fit/motion_problem.hpp"
#include "fit/turn_fit.hpp"

namespace vast_turn {

/// By how much the delay varies from look to look.
struct VaryingDelay {
    bool is_told = false;
    double varies_ms = 0.0;
    double error_ms = 0.0;   ///< its standard error
    double at_most_ms = 1.0; ///< it would have been seen if it were more
};

/// What logs with encoders say of the motors.
struct MotorFit {
    MotorNumbers numbers;
    double track_mm = 0.0; ///< of a robot with weight, by how its wheels move one another
    Unknowns sought;
    Eigen::MatrixXd covariance; ///< of those of them that all logs share
    /// The dead band lies between these with 95 %; none when no power of the logs is below most_pct of DeadBand.
    std::optional<std::pair<double, double>> dead_band_pct;
    VaryingDelay varying;
    double told_part = 1.0;      ///< of what the wheels did
    bool rims_are_exact = false; ///< encoders are finer than what the model does not know
    std::vector<RimWays> ways;   ///< as they were by all that is known, for each log
    std::optional<TurnFit> turn; ///< found along, when turns were told
};

/// Fits the motors. Every log has encoders, and the turns when they are asked for.
MotorFit fit_motors(const Robot& robot, const std::vector<DriveLog>& logs, std::optional<ToldTurns> turns = {});

} // namespace vast_turn
