#pragma once

/// What turning tells: how far apart the wheels stand, and which of them is larger.

#include <array>
#include <optional>
#include <vector>

#include <Eigen/Dense>

#include "fit/rim_ways.hpp"

namespace vast_turn {

/// A turn told by gyro or compass as it follows from both rims: turn = right * R - left * L + drift * t.
struct TurnFit {
    double left = 0.0;  ///< radians that each mm of the left rim turns it back
    double right = 0.0; ///< likewise forward
    double drift_deg_s = 0.0;
    Eigen::Matrix3d covariance = Eigen::Matrix3d::Zero(); ///< of left, right, drift_deg_s
};

/// Fits it to the turns told of each log (degrees); none when the robot hardly turned, or a wheel never did.
/// `settles_s`: time constant with which a drift after the start dies away, which is allowed for.
std::optional<TurnFit> fit_turns(const std::vector<DriveLog>& logs, const std::vector<RimWays>& ways,
                                 std::vector<double> DriveLog::*told, double settles_s);

} // namespace vast_turn
