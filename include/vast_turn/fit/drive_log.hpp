#pragma once

/// What a robot told of a run, as its numbers can be fitted to it.

#include <cstddef>
#include <string>
#include <vector>

namespace vast_turn {

/// No number of a log is larger, in any of its units.
inline constexpr double drive_log_most = 1e9;

/// Looks of one run, in their order. Each list is as long as `t_ms`, or empty when the log does not tell of it.
struct DriveLog {
    std::string name;                        ///< "rounds.csv"
    std::vector<double> t_ms;                ///< of each look, by the robot's clock; never goes back
    std::vector<double> left_pct;            ///< powers that were answered at that look; never empty
    std::vector<double> right_pct;           ///< likewise
    std::vector<double> left_deg;            ///< how far the wheels have turned, as their encoders tell
    std::vector<double> right_deg;           ///< likewise
    std::vector<double> gyro_deg;            ///< the turn that the gyro tells, counter-clockwise, does not wrap
    std::vector<double> compass_deg;         ///< heading in the course's frame, does not wrap
    std::vector<double> way_mm;              ///< that the robot reckoned of its encoders
    std::vector<double> turn_deg;            ///< likewise the turn
    std::vector<std::vector<double>> counts; ///< of each line sensor, from the left; empty without
    /// Columns that a robot without such a sensor could not tell: "range_mm", "by_gyro_deg".
    std::vector<std::string> columns;

    std::size_t looks() const { return t_ms.size(); }
    bool has_encoders() const { return !left_deg.empty() && !right_deg.empty(); }
    /// From its first look to its last.
    double seconds() const { return t_ms.empty() ? 0.0 : (t_ms.back() - t_ms.front()) / 1000.0; }
};

} // namespace vast_turn
